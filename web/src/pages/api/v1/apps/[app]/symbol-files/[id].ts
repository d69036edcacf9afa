import { ApiError } from '@rough-ember/server/errors';
import { toSymbolFileView } from '@rough-ember/server/symbols/symbol-overview';
import type { App } from '@rough-ember/store/apps';
import { otherBuildsOfContent } from '@rough-ember/store/replaced-symbol-files';
import { deleteSymbolFile } from '@rough-ember/store/symbol-file-states';
import { findSymbolFile, listSymbolParts, type SymbolFile } from '@rough-ember/store/symbol-files';
import type { APIContext, APIRoute } from 'astro';
import { json, requireAppRight, requireId, requireUploader } from '../../../../../../server-side';

async function requireFile(context: APIContext, app: App): Promise<SymbolFile> {
  const file = await findSymbolFile(context.locals.services.database, requireId(context));
  if (!file || file.appId !== app.id) throw new ApiError('not-found', `There is no symbol file of this number in ${app.name}.`);
  return file;
}

/** One file and how far it is; the command line waits on this after an upload, with the token it uploaded with. */
export const GET: APIRoute = async (context) => {
  const { services } = context.locals;
  const app = await requireUploader(context);
  const file = await requireFile(context, app);
  const parts = await listSymbolParts(services.database, app.id, file.id);
  const alsoOf = await otherBuildsOfContent(services.database, file);
  return json(toSymbolFileView(file, parts.get(file.id) ?? [], { alsoOf }));
};

/** Deletes a file; reports that it named go round again, and the disk is freed once no app refers to its content. */
export const DELETE: APIRoute = async (context) => {
  const { services } = context.locals;
  const { app } = await requireAppRight(context, 'developer');
  const reports = await deleteSymbolFile(services.database, await requireFile(context, app));
  services.jobs.wake();
  services.changes.note(app.id);
  return json({ reports });
};
