import { applyChange, changeSchema } from '@rough-ember/server/grouping/change-rules';
import type { APIRoute } from 'astro';
import { json, readJson, requireAppRight } from '../../../../../../server-side';

export const POST: APIRoute = async (context) => {
  const { app } = await requireAppRight(context, 'developer');
  const { id } = await readJson(context, changeSchema);
  await applyChange(context.locals.services, app, { id });
  return json({ id }, 202);
};
