import { loadRolloutCheck } from '@rough-ember/server/versions/load-versions';
import type { APIRoute } from 'astro';
import { json, requireAppRight } from '../../../../../../../server-side';

export const GET: APIRoute = async (context) => {
  const { app } = await requireAppRight(context);
  return json(await loadRolloutCheck(context.locals.services, app, context.params.version ?? '', new Date()));
};
