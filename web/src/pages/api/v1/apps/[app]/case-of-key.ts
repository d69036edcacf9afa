import { findCaseOfKey } from '@rough-ember/server/desk/case-of-key';
import type { APIRoute } from 'astro';
import { z } from 'zod';
import { json, readJson, requireAppRight } from '../../../../../server-side';

const bodySchema = z.object({ keys: z.array(z.string().min(1).max(8_000)).min(1).max(8) });

/** The case that reports with one of these grouping keys are placed in, the first that has one; or null. */
export const POST: APIRoute = async (context) => {
  const { app } = await requireAppRight(context);
  const { keys } = await readJson(context, bodySchema);
  return json({ found: await findCaseOfKey(context.locals.services.database, app, keys) });
};
