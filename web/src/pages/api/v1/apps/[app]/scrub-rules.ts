import { scrubRulesSchema } from '@rough-ember/core/report/scrub';
import { changeScrubRules, readScrubRules } from '@rough-ember/store/apps';
import type { APIRoute } from 'astro';
import { json, readJson, requireAppRight } from '../../../../../server-side';

export const GET: APIRoute = async (context) => {
  const { app } = await requireAppRight(context);
  return json(await readScrubRules(context.locals.services.database, app.id));
};

/** Changes what is taken out of this app's texts, from the next request on. */
export const PUT: APIRoute = async (context) => {
  const { app } = await requireAppRight(context, 'developer');
  const rules = await readJson(context, scrubRulesSchema);
  await changeScrubRules(context.locals.services.database, app.id, rules);
  return json(rules);
};
