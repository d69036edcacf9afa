import { scrubRulesSchema } from '@rough-ember/core/report/scrub';
import type { APIRoute } from 'astro';
import { z } from 'zod';
import { json, readJson, requireAppRight } from '../../../../../server-side';

const previewSchema = z.object({ rules: scrubRulesSchema, sample: z.string().max(20_000) });

/** What rules would leave of a text; nothing is kept. */
export const POST: APIRoute = async (context) => {
  await requireAppRight(context);
  const { rules, sample } = await readJson(context, previewSchema);
  return json(await context.locals.services.workers.run('previewScrub', rules, sample));
};
