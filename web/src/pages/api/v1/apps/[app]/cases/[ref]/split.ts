import { split, splitSchema } from '@rough-ember/server/desk/case-actions';
import type { APIRoute } from 'astro';
import { json, readJson, requireAppRight } from '../../../../../../../server-side';

export const POST: APIRoute = async (context) => {
  const { app, by } = await requireAppRight(context, 'developer');
  const { reports } = await readJson(context, splitSchema);
  return json(await split(context.locals.services, app, { ref: context.params.ref ?? '', actor: by, reports }));
};
