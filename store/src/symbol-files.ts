import type { SymbolFileKind, SymbolNeed } from '@rough-ember/core/symbolicate/readable-report';
import { symbolKey, wantedKeys } from '@rough-ember/core/symbols/symbol-id';
import { versionSortKey } from '@rough-ember/core/version/version-order';
import { type Database, inTransaction } from './database.ts';
import { retryFailedOfBuild } from './failed-reports.ts';
import { finishJob, queueJobs } from './jobs.ts';

export interface SymbolFile {
  readonly id: number;
  readonly appId: number;
  readonly kind: SymbolFileKind;
  /** Empty when only its ids tie the file to a build. */
  readonly version: string;
  readonly build: string;
  readonly sha256: Buffer;
  readonly sizeBytes: number;
  readonly fileName: string;
  readonly state: 'indexing' | 'ready' | 'refused';
  readonly problem: string | null;
  readonly uploadedBy: string;
  readonly createdAt: Date;
}

/** One index that came of a file; `summary` is what the index says about itself. */
export interface SymbolPart {
  readonly part: number;
  readonly kind: SymbolFileKind;
  readonly symbolId: string | null;
  readonly name: string | null;
  readonly summary: unknown;
}

const columns = {
  id: 'id',
  appId: 'app_id',
  kind: 'kind',
  version: 'version',
  build: 'build',
  sha256: 'sha256',
  sizeBytes: 'size_bytes',
  fileName: 'file_name',
  state: 'state',
  problem: 'problem',
  uploadedBy: 'uploaded_by',
  createdAt: 'created_at',
} as const;

export type NewSymbolFile = Pick<SymbolFile, 'appId' | 'kind' | 'version' | 'build' | 'sha256' | 'sizeBytes' | 'fileName' | 'uploadedBy'>;

/** Records an uploaded file and queues its indexing. The same bytes for the same build are recorded once. */
export async function storeSymbolFile(database: Database, file: NewSymbolFile): Promise<{ file: SymbolFile; isNew: boolean }> {
  return database.transaction(async (transaction) => {
    // Uploads of one app queue up here, so that two senders of the same file make one record.
    await transaction('apps').where({ id: file.appId }).forUpdate().first('id');
    const known = await findSymbolFileOfContent(transaction, file);
    if (known) return { file: known, isNew: false };
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
    return { file: await transaction('symbol_files').where({ id }).first(columns), isNew: true };
  });
}

export async function findSymbolFile(database: Database, id: number): Promise<SymbolFile | null> {
  return (await database('symbol_files').where({ id }).first(columns)) ?? null;
}

/** The file with this content for this build, unless it was refused. */
export async function findSymbolFileOfContent(
  database: Database,
  { appId, version, build, sha256 }: Pick<SymbolFile, 'appId' | 'version' | 'build' | 'sha256'>,
): Promise<SymbolFile | null> {
  const found = await database('symbol_files')
    .where({ app_id: appId, version, build, sha256 })
    .whereNot({ state: 'refused' })
    .first(columns);
  return found ?? null;
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
    await transaction('symbol_files').where({ id: file.id }).update({ state: 'ready', problem: null });
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
    const again = await sendRoundAgain(transaction, file, parts, file.state === 'ready' ? null : false);
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

/** Files of split units that came last; a build's library looks for its own among them. */
export async function listSplitFiles(database: Database, appId: number): Promise<Pick<SymbolFile, 'id' | 'sha256'>[]> {
  return database('symbol_parts')
    .join('symbol_files', 'symbol_files.id', 'symbol_parts.file_id')
    .where({ 'symbol_parts.app_id': appId, 'symbol_parts.kind': 'split', state: 'ready' })
    .orderBy('symbol_files.id', 'desc')
    .limit(splitFilesTried)
    .select({ id: 'symbol_files.id', sha256: 'sha256' });
}

const splitFilesTried = 8;

/** Queues the reports that asked for one of the parts: in vain, found, or (null) either; newest first. */
async function sendRoundAgain(
  transaction: Database,
  file: SymbolFile,
  parts: readonly Pick<SymbolPart, 'kind' | 'symbolId' | 'name'>[],
  found: boolean | null,
): Promise<number> {
  const asking: { row: number }[] = await transaction('report_needs')
    .where({ app_id: file.appId, ...(found === null ? {} : { found }) })
    .where((anyPart) => {
      for (const part of parts)
        anyPart.orWhere((tie) => {
          tie.where({ kind: part.kind }).where((either) => {
            either.where((byBuild) => {
              byBuild.where({ symbol_key: '', version: file.version, build: file.build });
              if (part.name !== null) byBuild.whereIn('name', [part.name, '']);
            });
            if (part.symbolId !== null) either.orWhereIn('symbol_key', wantedKeys(part.kind, part.symbolId));
          });
        });
    })
    .orderBy('report_row', 'desc')
    // Waits for reports that are being saved without this file; see symbolFileHasCome.
    .forShare()
    .select({ row: 'report_row' });
  const rows = [...new Set(asking.map((one) => one.row))];
  for (let at = 0; at < rows.length; at += 1000)
    await queueJobs(transaction, { kind: 'process-report', appId: file.appId, priority: 'again' }, rows.slice(at, at + 1000));
  return rows.length;
}

/** A content on disk, whatever apps it serves. */
export interface SymbolContent extends Pick<SymbolFile, 'sha256' | 'fileName' | 'state'> {
  /** How many indexes it has. */
  readonly parts: number;
}

/** The contents that files of any app refer to. */
export async function listSymbolContents(database: Database): Promise<SymbolContent[]> {
  return database('symbol_files')
    .leftJoin('symbol_parts', 'symbol_parts.file_id', 'symbol_files.id')
    .groupBy('sha256')
    .orderBy('sha256')
    .select({
      sha256: 'sha256',
      fileName: database.raw('MIN(file_name)'),
      state: database.raw("IF(SUM(state = 'ready') > 0, 'ready', 'refused')"),
      parts: database.raw('COUNT(DISTINCT part)'),
    });
}

/** Whether a file of any app has this content. */
export async function isContentInUse(database: Database, sha256: Buffer): Promise<boolean> {
  return (await database('symbol_files').where({ sha256 }).first('id')) !== undefined;
}

export async function markSymbolFileRefused(database: Database, id: number, problem: string): Promise<void> {
  await database('symbol_files')
    .where({ id })
    .update({ state: 'refused', problem: problem.slice(0, 1000) });
}

export async function listSymbolFiles(database: Database, appId: number): Promise<SymbolFile[]> {
  return database('symbol_files')
    .where({ app_id: appId })
    .orderBy([
      { column: 'version_key', order: 'desc' },
      { column: 'id', order: 'desc' },
    ])
    .select(columns);
}

/** The parts of all indexed files of an app, or of one file, by the file's number. */
export async function listSymbolParts(database: Database, appId: number, fileId?: number): Promise<Map<number, SymbolPart[]>> {
  const rows: (SymbolPart & { fileId: number })[] = await database('symbol_parts')
    .where({ app_id: appId, ...(fileId === undefined ? {} : { file_id: fileId }) })
    .orderBy(['file_id', 'part'])
    .select({ fileId: 'file_id', part: 'part', kind: 'kind', symbolId: 'symbol_id', name: 'name', summary: 'summary' });
  const byFile = new Map<number, SymbolPart[]>();
  for (const { fileId: file, ...part } of rows) byFile.set(file, [...(byFile.get(file) ?? []), part]);
  return byFile;
}

/** What reports of one build ask for: files with these ids, and those of the build itself. */
export interface WantedFiles {
  readonly appId: number;
  readonly version: string;
  readonly build: string;
  /** As frames and images print them. */
  readonly symbolIds: readonly string[];
}

/** An index that may symbolicate a report, and what ties it. */
export interface FoundFile {
  readonly kind: SymbolFileKind;
  readonly symbolId: string | null;
  readonly name: string | null;
  readonly isOfBuild: boolean;
  readonly sha256: Buffer;
  readonly fileName: string;
  readonly part: number;
}

/** The indexes that may symbolicate reports of one build, the newest upload first; with an assembly its PDB, which it names. */
export async function findSymbolFiles(database: Database, wanted: WantedFiles): Promise<FoundFile[]> {
  const found = await findTiedFiles(database, wanted);
  const pdbIds = found.map((file) => file.pdbId).filter((id) => id !== null);
  if (pdbIds.length === 0) return found;
  return findTiedFiles(database, { ...wanted, symbolIds: [...wanted.symbolIds, ...pdbIds] });
}

async function findTiedFiles(
  database: Database,
  { appId, version, build, symbolIds }: WantedFiles,
): Promise<(FoundFile & { pdbId: string | null })[]> {
  const rows: (Omit<FoundFile, 'isOfBuild'> & { version: string; build: string; pdbId: string | null })[] = await database('symbol_parts')
    .join('symbol_files', 'symbol_files.id', 'symbol_parts.file_id')
    .where({ 'symbol_parts.app_id': appId, state: 'ready' })
    .where((tie) => {
      tie.where({ version, build });
      if (symbolIds.length > 0)
        tie.orWhereIn(
          'symbol_key',
          symbolIds.flatMap((id) => [...wantedKeys('code', id), ...wantedKeys('mapping', id)]),
        );
    })
    .orderBy('symbol_files.id', 'desc')
    .select({
      kind: 'symbol_parts.kind',
      symbolId: 'symbol_id',
      name: 'symbol_parts.name',
      sha256: 'sha256',
      fileName: 'file_name',
      part: 'part',
      version: 'version',
      build: 'build',
    })
    .select(database.raw(`IF(symbol_parts.kind = 'assembly', JSON_VALUE(summary, '$.pdbId'), NULL) AS pdbId`));
  return rows.map(({ version: ofVersion, build: ofBuild, ...found }) => ({
    ...found,
    isOfBuild: ofVersion === version && ofBuild === build,
  }));
}

/**
 * Whether a file that processing did not find has come since. The locking read waits for a file that is being
 * marked as ready, and keeps one from being marked before the need is recorded, so that neither misses the other.
 */
export async function symbolFileHasCome(
  transaction: Database,
  { kind, symbolId, name }: SymbolNeed,
  { appId, version, build }: { appId: number; version: string; build: string },
): Promise<boolean> {
  const query = transaction('symbol_parts')
    .join('symbol_files', 'symbol_files.id', 'symbol_parts.file_id')
    .where({ 'symbol_parts.app_id': appId, 'symbol_parts.kind': kind, state: 'ready' });
  if (symbolId !== null)
    query.where((either) => {
      either.whereIn('symbol_key', wantedKeys(kind, symbolId));
      if (kind === 'mapping') either.orWhere({ symbol_key: null, version, build });
    });
  else {
    query.where({ version, build });
    if (name !== null) query.where((either) => either.where({ 'symbol_parts.name': name }).orWhereNull('symbol_parts.name'));
  }
  return (await query.forShare().first('file_id')) !== undefined;
}

/** What the reports of one build ask for, and how many of them and people that concerns. */
export interface SymbolDemand extends SymbolNeed {
  readonly version: string;
  readonly build: string;
  readonly found: boolean;
  readonly reports: number;
  readonly people: number;
  readonly lastAt: Date;
}

/** The needs of all builds that sent reports, newest version first. */
export async function listSymbolDemand(database: Database, appId: number): Promise<SymbolDemand[]> {
  const rows: (Omit<SymbolDemand, 'found'> & { symbolId: string; name: string; found: number })[] = await database('report_needs')
    .join('reports', 'reports.id', 'report_needs.report_row')
    .where('report_needs.app_id', appId)
    .groupBy('report_needs.version', 'reports.version_key', 'report_needs.build', 'report_needs.kind', 'symbol_id', 'name', 'found')
    .orderBy([{ column: 'reports.version_key', order: 'desc' }, 'report_needs.build', 'report_needs.kind', 'name', 'symbol_id', 'found'])
    .select({
      version: 'report_needs.version',
      build: 'report_needs.build',
      kind: 'report_needs.kind',
      symbolId: 'symbol_id',
      name: 'name',
    })
    .select('found')
    .select(database.raw('COUNT(DISTINCT report_row) AS reports, COUNT(DISTINCT person_key) AS people, MAX(occurred_at) AS lastAt'));
  return rows.map((row) => ({
    ...row,
    symbolId: row.symbolId === '' ? null : row.symbolId,
    name: row.name === '' ? null : row.name,
    found: row.found === 1,
    reports: Number(row.reports),
    people: Number(row.people),
  }));
}
