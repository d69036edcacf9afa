import { loadVersionList } from '@rough-ember/server/versions/load-versions';
import type { APIRoute } from 'astro';
import { json, requireAppRight } from '../../../../../../server-side';

export const GET: APIRoute = async (context) => {
  const { app } = await requireAppRight(context);
  return json(await loadVersionList(context.locals.services, app, new Date()));
};
