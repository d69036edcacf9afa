import { previewRules, rulesSchema } from '@rough-ember/server/grouping/change-rules';
import type { APIRoute } from 'astro';
import { json, readJson, requireAppRight } from '../../../../../../server-side';

export const POST: APIRoute = async (context) => {
  const { app, by } = await requireAppRight(context, 'developer');
  const { rules } = await readJson(context, rulesSchema);
  return json(await previewRules(context.locals.services, app, { rules, actor: by }), 202);
};
