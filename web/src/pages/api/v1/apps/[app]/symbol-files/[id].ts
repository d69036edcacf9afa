import { ApiError } from '@rough-ember/server/errors';
import { toSymbolFileView } from '@rough-ember/server/symbols/symbol-overview';
import { findSymbolFile, listSymbolParts } from '@rough-ember/store/symbol-files';
import type { APIRoute } from 'astro';
import { json, requireId, requireUploader } from '../../../../../../server-side';

/** One file and how far it is; the command line waits on this after an upload, with the token it uploaded with. */
export const GET: APIRoute = async (context) => {
  const { services } = context.locals;
  const app = await requireUploader(context);
  const file = await findSymbolFile(services.database, requireId(context));
  if (!file || file.appId !== app.id) throw new ApiError('not-found', `There is no symbol file of this number in ${app.name}.`);
  const parts = await listSymbolParts(services.database, app.id, file.id);
  return json(toSymbolFileView(file, parts.get(file.id) ?? [], false));
};
