import { symbolKey } from '@rough-ember/core/symbols/symbol-id';
import { versionSortKey } from '@rough-ember/core/version/version-order';
import { type Database, inTransaction } from './database.ts';
import { retryFailedOfBuild } from './failed-reports.ts';
import { finishJob, queueJobs } from './jobs.ts';
import { bringBackReplaced, putBackSymbolFile, takePlace } from './replaced-symbol-files.ts';
import {
  findSymbolFile,
  findSymbolFileOfContent,
  listSymbolParts,
  type SymbolFile,
  type SymbolPart,
  sendRoundAgain,
  symbolFileColumns,
} from './symbol-files.ts';

export type NewSymbolFile = Pick<SymbolFile, 'appId' | 'kind' | 'version' | 'build' | 'sha256' | 'sizeBytes' | 'fileName' | 'uploadedBy'>;

/** Records an uploaded file and queues its indexing. The same bytes for the same build are recorded once. */
export async function storeSymbolFile(database: Database, file: NewSymbolFile): Promise<{ file: SymbolFile; isNew: boolean }> {
  return database.transaction(async (transaction) => {
    // Uploads of one app queue up here, so that two senders of the same file make one record.
    await transaction('apps').where({ id: file.appId }).forUpdate().first('id');
    const known = await findSymbolFileOfContent(transaction, file);
    if (known) {
      // Whoever sends a file again that was replaced wants it to be used.
      if (known.state === 'replaced') await putBackSymbolFile(transaction, known);
      return { file: (await findSymbolFile(transaction, known.id)) as SymbolFile, isNew: false };
    }
    const [id] = await transaction('symbol_files').insert({
      app_id: file.appId,
      kind: file.kind,
      version: file.version,
      version_key: versionSortKey(file.version),
      build: file.build,
      sha256: file.sha256,
      size_bytes: file.sizeBytes,
      file_name: file.fileName,
      state: 'indexing',
      uploaded_by: file.uploadedBy,
    });
    await queueJobs(transaction, { kind: 'index-symbol-file', appId: file.appId, priority: 'symbols' }, [id as number]);
    return { file: await transaction('symbol_files').where({ id }).first(symbolFileColumns), isNew: true };
  });
}

/**
 * Marks a file as indexed, finishes its job, and sends the reports that lacked it, and only they, round again:
 * newest first. Gives how many.
 */
export async function markSymbolFileReady(
  database: Database,
  file: SymbolFile,
  parts: readonly Omit<SymbolPart, 'part'>[],
  jobId: number,
): Promise<number> {
  // Several files are indexed at a time; what locks each other out is tried again.
  return inTransaction(database, async (transaction) => {
    const state = file.state === 'replaced' ? 'replaced' : 'ready';
    await transaction('symbol_files').where({ id: file.id }).update({ state, problem: null });
    await transaction('symbol_parts').where({ file_id: file.id }).delete();
    await transaction('symbol_parts').insert(
      parts.map(({ kind, symbolId, name, summary }, part) => ({
        file_id: file.id,
        part,
        app_id: file.appId,
        kind,
        symbol_id: symbolId,
        symbol_key: symbolId === null ? null : symbolKey(kind, symbolId),
        name,
        summary: JSON.stringify(summary),
      })),
    );
    // A file that was ready before is indexed anew: what it named is named again.
    const isFirst = file.state === 'indexing';
    const hasTakenPlace = isFirst && (await takePlace(transaction, file, parts));
    const again = await sendRoundAgain(transaction, file, parts, isFirst && !hasTakenPlace ? false : null);
    await retryFailedOfBuild(transaction, file);
    if (parts.some((part) => part.kind === 'split')) await indexAgain(transaction, file.appId);
    await finishJob(transaction, jobId);
    return again;
  });
}

/**
 * Deletes a file of one app. Reports that were named by it go round again, as another file may serve them. The bytes stay on
 * disk until nothing refers to them. Gives how many reports go round.
 */
export async function deleteSymbolFile(database: Database, file: SymbolFile): Promise<number> {
  return inTransaction(database, async (transaction) => {
    const parts = (await listSymbolParts(transaction, file.appId, file.id)).get(file.id) ?? [];
    const again = parts.length === 0 ? 0 : await sendRoundAgain(transaction, file, parts, true);
    await bringBackReplaced(transaction, file);
    await transaction('symbol_files').where({ id: file.id }).delete();
    return again;
  });
}

/** Queues the indexing of the files that lack split units, since some have come. */
async function indexAgain(transaction: Database, appId: number): Promise<void> {
  const lacking: { id: number }[] = await transaction('symbol_parts')
    .where({ app_id: appId, kind: 'code' })
    .whereRaw("JSON_VALUE(summary, '$.missingSplitUnitCount') > 0")
    .distinct({ id: 'file_id' });
  const ids = lacking.map(({ id }) => id);
  if (ids.length > 0) await queueJobs(transaction, { kind: 'index-symbol-file', appId, priority: 'symbols' }, ids);
}

export async function markSymbolFileRefused(database: Database, id: number, problem: string): Promise<void> {
  await database('symbol_files')
    .where({ id })
    .update({ state: 'refused', problem: problem.slice(0, 1000) });
}
