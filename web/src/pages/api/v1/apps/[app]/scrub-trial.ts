import { scrubRulesSchema } from '@rough-ember/core/report/scrub';
import type { APIRoute } from 'astro';
import { json, readJson, requireAppRight } from '../../../../../server-side';

export const POST: APIRoute = async (context) => {
  const { app } = await requireAppRight(context);
  return json(await context.locals.services.workers.run('tryScrub', app.id, await readJson(context, scrubRulesSchema)));
};
