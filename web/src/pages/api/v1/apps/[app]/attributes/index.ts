import { attributeNameSchema, makeFilterable } from '@rough-ember/server/desk/fields';
import type { APIRoute } from 'astro';
import { json, readJson, requireAppRight } from '../../../../../../server-side';

export const POST: APIRoute = async (context) => {
  const { app, by } = await requireAppRight(context, 'developer');
  const { name } = await readJson(context, attributeNameSchema);
  await makeFilterable(context.locals.services, app, { name, by });
  return json({ name }, 202);
};
