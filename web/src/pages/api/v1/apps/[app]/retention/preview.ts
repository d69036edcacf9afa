import { retentionSchema } from '@rough-ember/core/report/retention';
import { previewRetention } from '@rough-ember/server/privacy/retention';
import type { APIRoute } from 'astro';
import { json, readJson, requireAppRight } from '../../../../../../server-side';

export const POST: APIRoute = async (context) => {
  const { app } = await requireAppRight(context);
  return json(await previewRetention(context.locals.services, app, await readJson(context, retentionSchema), new Date()));
};
