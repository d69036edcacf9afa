import { addNote, noteSchema } from '@rough-ember/server/desk/case-actions';
import type { APIRoute } from 'astro';
import { json, readJson, requireAppRight } from '../../../../../../../server-side';

/** Keeps a note in the history of a case. */
export const POST: APIRoute = async (context) => {
  const { app, by } = await requireAppRight(context, 'developer');
  const { text } = await readJson(context, noteSchema);
  await addNote(context.locals.services, app, { ref: context.params.ref ?? '', actor: by, text });
  return json({ ok: true });
};
