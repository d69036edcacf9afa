import type { MappingSummary } from '@rough-ember/core/symbols/mapping/index-layout';
import { versionSortKey } from '@rough-ember/core/version/version-order';
import type { Database } from './database.ts';
import { finishJob, queueJobs } from './jobs.ts';

export interface SymbolFile {
  readonly id: number;
  readonly appId: number;
  readonly kind: 'mapping';
  readonly version: string;
  readonly build: string;
  readonly mapId: string | null;
  readonly sha256: Buffer;
  readonly sizeBytes: number;
  readonly fileName: string;
  readonly state: 'indexing' | 'ready' | 'refused';
  readonly problem: string | null;
  readonly summary: MappingSummary | null;
  readonly uploadedBy: string;
  readonly createdAt: Date;
}

const columns = {
  id: 'id',
  appId: 'app_id',
  kind: 'kind',
  version: 'version',
  build: 'build',
  mapId: 'map_id',
  sha256: 'sha256',
  sizeBytes: 'size_bytes',
  fileName: 'file_name',
  state: 'state',
  problem: 'problem',
  summary: 'summary',
  uploadedBy: 'uploaded_by',
  createdAt: 'created_at',
} as const;

export type NewSymbolFile = Pick<SymbolFile, 'appId' | 'kind' | 'version' | 'build' | 'sha256' | 'sizeBytes' | 'fileName' | 'uploadedBy'>;

/** Records an uploaded file and queues its indexing. The same bytes for the same build are recorded once. */
export async function storeSymbolFile(database: Database, file: NewSymbolFile): Promise<{ file: SymbolFile; isNew: boolean }> {
  return database.transaction(async (transaction) => {
    // Uploads of one app queue up here, so that two senders of the same file make one record.
    await transaction('apps').where({ id: file.appId }).forUpdate().first('id');
    const known = await transaction('symbol_files')
      .where({ app_id: file.appId, version: file.version, build: file.build, sha256: file.sha256 })
      .whereNot({ state: 'refused' })
      .first(columns);
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

/**
 * Marks a file as indexed, finishes its job, and sends the reports that lacked it, and only they, round again:
 * newest first. Gives how many.
 */
export async function markSymbolFileReady(database: Database, file: SymbolFile, summary: MappingSummary, jobId: number): Promise<number> {
  return database.transaction(async (transaction) => {
    await transaction('symbol_files')
      .where({ id: file.id })
      .update({ state: 'ready', problem: null, map_id: summary.mapId, summary: JSON.stringify(summary) });
    const waiting: { row: number }[] = await transaction('report_needs')
      .where({ app_id: file.appId, found: false })
      .where((tie) => {
        tie.where({ map_id: '', version: file.version, build: file.build });
        if (summary.mapId !== null) tie.orWhere({ map_id: summary.mapId });
      })
      .orderBy('report_row', 'desc')
      // Waits for reports that are being saved without this file; see mappingHasCome.
      .forShare()
      .select({ row: 'report_row' });
    const rows = waiting.map((one) => one.row);
    for (let at = 0; at < rows.length; at += 1000)
      await queueJobs(transaction, { kind: 'process-report', appId: file.appId, priority: 'again' }, rows.slice(at, at + 1000));
    await finishJob(transaction, jobId);
    return rows.length;
  });
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

/** What a report asks for: by map id where its frames print one, else by version and build. */
export interface WantedMapping {
  readonly appId: number;
  readonly version: string;
  readonly build: string;
  readonly mapId: string | null;
}

function readyMappings(database: Database, { appId, version, build, mapId }: WantedMapping) {
  const tie = mapId === null ? { version, build } : { map_id: mapId };
  return database('symbol_files').where({ app_id: appId, kind: 'mapping', state: 'ready', ...tie });
}

/** The file that symbolicates the frames of a build; the newest when there are several. */
export async function findMapping(database: Database, wanted: WantedMapping): Promise<Pick<SymbolFile, 'sha256'> | null> {
  return (await readyMappings(database, wanted).orderBy('id', 'desc').first({ sha256: 'sha256' })) ?? null;
}

/**
 * Whether a mapping that processing did not find has come since. The locking read waits for a file that is being
 * marked as ready, and keeps one from being marked before the need is recorded, so that neither misses the other.
 */
export async function mappingHasCome(transaction: Database, wanted: WantedMapping): Promise<boolean> {
  return (await readyMappings(transaction, wanted).forShare().first('id')) !== undefined;
}

/** What the reports of one build ask for, and how many of them and people that concerns. */
export interface SymbolDemand {
  readonly version: string;
  readonly build: string;
  readonly mapId: string | null;
  readonly found: boolean;
  readonly reports: number;
  readonly people: number;
  readonly lastAt: Date;
}

/** The needs of all builds that sent reports, newest version first. */
export async function listSymbolDemand(database: Database, appId: number): Promise<SymbolDemand[]> {
  const rows: (Omit<SymbolDemand, 'mapId' | 'found'> & { mapId: string; found: number })[] = await database('report_needs')
    .join('reports', 'reports.id', 'report_needs.report_row')
    .where('report_needs.app_id', appId)
    .groupBy('report_needs.version', 'reports.version_key', 'report_needs.build', 'map_id', 'found')
    .orderBy([{ column: 'reports.version_key', order: 'desc' }, 'report_needs.build', 'map_id', 'found'])
    .select({ version: 'report_needs.version', build: 'report_needs.build', mapId: 'map_id', found: 'found' })
    .select(database.raw('COUNT(DISTINCT report_row) AS reports, COUNT(DISTINCT person_key) AS people, MAX(occurred_at) AS lastAt'));
  return rows.map((row) => ({
    ...row,
    mapId: row.mapId === '' ? null : row.mapId,
    found: row.found === 1,
    reports: Number(row.reports),
    people: Number(row.people),
  }));
}
