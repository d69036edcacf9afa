import { loadRequests } from '@rough-ember/server/stability/app-activity';
import type { APIRoute } from 'astro';
import { json, requireAppRight, requireStability } from '../../../../../server-side';

export const GET: APIRoute = async (context) => {
  const { app } = await requireAppRight(context);
  return json(await loadRequests(context.locals.services, requireStability(context, app)));
};
