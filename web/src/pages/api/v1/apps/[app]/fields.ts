import { loadFields } from '@rough-ember/server/desk/fields';
import type { APIRoute } from 'astro';
import { json, requireAppRight } from '../../../../../server-side';

export const GET: APIRoute = async (context) => {
  const { app } = await requireAppRight(context);
  return json(await loadFields(context.locals.services, app));
};
