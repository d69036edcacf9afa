import { splitSchema } from '@rough-ember/core/cases/desk-settings';
import { loadWhen } from '@rough-ember/server/desk/case-evidence';
import type { APIRoute } from 'astro';
import { json, readParameters, requireAppRight, requireScope } from '../../../../../../../server-side';

export const GET: APIRoute = async (context) => {
  const { app } = await requireAppRight(context);
  const query = { app, ref: context.params.ref ?? '', scope: requireScope(context), now: new Date() };
  return json(await loadWhen(context.locals.services, query, readParameters(context, splitSchema)));
};
