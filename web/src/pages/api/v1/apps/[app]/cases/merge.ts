import { merge, mergeSchema } from '@rough-ember/server/desk/case-actions';
import type { APIRoute } from 'astro';
import { json, readJson, requireAppRight } from '../../../../../../server-side';

export const POST: APIRoute = async (context) => {
  const { app, by } = await requireAppRight(context, 'developer');
  return json(await merge(context.locals.services, app, { actor: by, ...(await readJson(context, mergeSchema)) }));
};
