import { ApiError } from '@rough-ember/server/errors';
import { inTransaction } from '@rough-ember/store/database';
import { putBackSymbolFile } from '@rough-ember/store/replaced-symbol-files';
import { findSymbolFile } from '@rough-ember/store/symbol-files';
import type { APIRoute } from 'astro';
import { json, requireAppRight, requireId } from '../../../../../../../server-side';

/** Uses a file again that a later one of its build had replaced; the reports of the build are named again. One in use stays so. */
export const POST: APIRoute = async (context) => {
  const { services } = context.locals;
  const { app } = await requireAppRight(context, 'developer');
  const file = await findSymbolFile(services.database, requireId(context));
  if (!file || file.appId !== app.id) throw new ApiError('not-found', `There is no symbol file of this number in ${app.name}.`);
  const isReplaced = file.state === 'replaced';
  const reports = isReplaced ? await inTransaction(services.database, (transaction) => putBackSymbolFile(transaction, file)) : 0;
  services.jobs.wake();
  services.changes.note(app.id);
  return json({ reports });
};
