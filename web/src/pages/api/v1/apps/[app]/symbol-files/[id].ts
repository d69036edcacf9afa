import { requireUploadToken } from '@rough-ember/server/accounts/upload-token';
import { ApiError } from '@rough-ember/server/errors';
import { toSymbolFileView } from '@rough-ember/server/symbols/symbol-overview';
import { findSymbolFile } from '@rough-ember/store/symbol-files';
import type { APIRoute } from 'astro';
import { json, requireApp, requireId } from '../../../../../../server-side';

/** One file and how far it is; the command line waits on this after an upload. */
export const GET: APIRoute = async (context) => {
  const { services, account } = context.locals;
  const app = await requireApp(context);
  if (!account) await requireUploadToken(services.database, context.request.headers.get('authorization'), app);
  const file = await findSymbolFile(services.database, requireId(context));
  if (!file || file.appId !== app.id) throw new ApiError('not-found', `There is no symbol file of this number in ${app.name}.`);
  return json(toSymbolFileView(file, false));
};
