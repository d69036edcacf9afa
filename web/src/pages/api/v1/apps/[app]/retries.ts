import { retryReports, retrySchema } from '@rough-ember/server/intake/intake-overview';
import type { APIRoute } from 'astro';
import { json, readJson, requireAppRight } from '../../../../../server-side';

/** Sends reports round again that could not be processed. */
export const POST: APIRoute = async (context) => {
  const { app } = await requireAppRight(context, 'developer');
  return json(await retryReports(context.locals.services, app, await readJson(context, retrySchema)), 202);
};
