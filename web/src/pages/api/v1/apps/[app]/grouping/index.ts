import { loadGrouping } from '@rough-ember/server/grouping/change-rules';
import type { APIRoute } from 'astro';
import { json, requireAppRight } from '../../../../../../server-side';

export const GET: APIRoute = async (context) => {
  const { app } = await requireAppRight(context);
  return json(await loadGrouping(context.locals.services, app));
};
