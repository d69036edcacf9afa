import { undoLast, undoSchema } from '@rough-ember/server/desk/case-actions';
import type { APIRoute } from 'astro';
import { json, readJson, requireAppRight } from '../../../../../../../server-side';

/** Takes the last change of a case back. */
export const POST: APIRoute = async (context) => {
  const { app, by } = await requireAppRight(context, 'developer');
  const { event } = await readJson(context, undoSchema);
  await undoLast(context.locals.services, app, { ref: context.params.ref ?? '', actor: by, event });
  return json({ ok: true });
};
