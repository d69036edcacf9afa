import { loadValues, valuesSchema } from '@rough-ember/server/desk/fields';
import type { APIRoute } from 'astro';
import { json, readParameters, requireAppRight, requireScope } from '../../../../../server-side';

export const GET: APIRoute = async (context) => {
  const { app } = await requireAppRight(context);
  const query = { app, scope: requireScope(context), now: new Date() };
  return json(await loadValues(context.locals.services, query, readParameters(context, valuesSchema)));
};
