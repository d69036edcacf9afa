import type { FrameCoverage, SymbolNeed } from '@rough-ember/core/symbolicate/readable-report';
import { familyOf, type SymbolFileKind, symbolFileKinds } from '@rough-ember/core/symbols/families';
import { wantedKeys } from '@rough-ember/core/symbols/symbol-id';
import type { Database } from './database.ts';
import { queueJobs } from './jobs.ts';

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
  /** Replaced: another file of the same build is used in its place; frames that print its id still find it. */
  readonly state: 'indexing' | 'ready' | 'refused' | 'replaced';
  readonly replacedBy: number | null;
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

/** How the columns of a file are named where they are read. */
export const symbolFileColumns = {
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
  replacedBy: 'replaced_by',
  uploadedBy: 'uploaded_by',
  createdAt: 'created_at',
} as const;

export async function findSymbolFile(database: Database, id: number): Promise<SymbolFile | null> {
  return (await database('symbol_files').where({ id }).first(symbolFileColumns)) ?? null;
}

/** The file with this content for this build, unless it was refused. */
export async function findSymbolFileOfContent(
  database: Database,
  { appId, version, build, sha256 }: Pick<SymbolFile, 'appId' | 'version' | 'build' | 'sha256'>,
): Promise<SymbolFile | null> {
  const found = await database('symbol_files')
    .where({ app_id: appId, version, build, sha256 })
    .whereNot({ state: 'refused' })
    .first(symbolFileColumns);
  return found ?? null;
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
export async function sendRoundAgain(
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
      state: database.raw("IF(SUM(state IN ('ready', 'replaced')) > 0, 'ready', 'refused')"),
      parts: database.raw('COUNT(DISTINCT part)'),
    });
}

/** Whether a file of any app has this content. */
export async function isContentInUse(database: Database, sha256: Buffer): Promise<boolean> {
  return (await database('symbol_files').where({ sha256 }).first('id')) !== undefined;
}

export async function listSymbolFiles(database: Database, appId: number): Promise<SymbolFile[]> {
  return database('symbol_files')
    .where({ app_id: appId })
    .orderBy([
      { column: 'version_key', order: 'desc' },
      { column: 'id', order: 'desc' },
    ])
    .select(symbolFileColumns);
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
  const rows: (Omit<FoundFile, 'isOfBuild'> & Pick<SymbolFile, 'version' | 'build' | 'state'> & { pdbId: string | null })[] =
    await database('symbol_parts')
      .join('symbol_files', 'symbol_files.id', 'symbol_parts.file_id')
      .where({ 'symbol_parts.app_id': appId })
      .whereIn('state', ['ready', 'replaced'])
      .where((tie) => {
        tie.where({ version, build, state: 'ready' });
        if (symbolIds.length > 0)
          tie.orWhereIn('symbol_key', [...new Set(symbolIds.flatMap((id) => symbolFileKinds.flatMap((kind) => wantedKeys(kind, id))))]);
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
        state: 'state',
      })
      .select(database.raw(`IF(symbol_parts.kind = 'assembly', JSON_VALUE(summary, '$.pdbId'), NULL) AS pdbId`));
  return rows.map(({ version: ofVersion, build: ofBuild, state, ...found }) => ({
    ...found,
    isOfBuild: ofVersion === version && ofBuild === build && state === 'ready',
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
    .where({ 'symbol_parts.app_id': appId, 'symbol_parts.kind': kind })
    .whereIn('state', symbolId === null ? ['ready'] : ['ready', 'replaced']);
  if (symbolId !== null)
    query.where((either) => {
      either.whereIn('symbol_key', wantedKeys(kind, symbolId));
      if (familyOf(kind).mayLoseId) either.orWhere({ symbol_key: null, version, build });
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
  /** Distinct frames of its reports that the file restored, and that do not occur in it; each case counts once. */
  readonly frames: FrameCoverage;
}

/** The needs of all builds that sent reports, newest version first. */
export async function listSymbolDemand(database: Database, appId: number): Promise<SymbolDemand[]> {
  const tie = ['report_needs.version', 'report_needs.build', 'report_needs.kind', 'symbol_id', 'name', 'found'];
  const chosen = {
    version: 'report_needs.version',
    build: 'report_needs.build',
    kind: 'report_needs.kind',
    symbolId: 'symbol_id',
    name: 'name',
    found: 'found',
  };
  const ofApp = () => database('report_needs').join('reports', 'reports.id', 'report_needs.report_row').where('report_needs.app_id', appId);
  const rows: (Omit<SymbolDemand, 'found' | 'frames'> & { symbolId: string; name: string; found: number })[] = await ofApp()
    .groupBy('reports.version_key', ...tie)
    .orderBy([{ column: 'reports.version_key', order: 'desc' }, 'report_needs.build', 'report_needs.kind', 'name', 'symbol_id', 'found'])
    .select(chosen)
    .select(database.raw('COUNT(DISTINCT report_row) AS reports, COUNT(DISTINCT person_key) AS people, MAX(occurred_at) AS lastAt'));
  const coverage: { key: string; covered: string; uncovered: string }[] = await database
    .from(
      ofApp()
        .whereRaw('frames_covered + frames_uncovered > 0')
        .groupBy(...tie, 'case_id')
        .select(chosen)
        .select(database.raw('MAX(frames_covered) AS covered, MAX(frames_uncovered) AS uncovered'))
        .as('by_case'),
    )
    .groupBy('version', 'build', 'kind', 'symbolId', 'name', 'found')
    .select('version', 'build', 'kind', 'symbolId', 'name', 'found')
    .select(database.raw('SUM(covered) AS covered, SUM(uncovered) AS uncovered'))
    .then((all: Record<string, string>[]) =>
      all.map((one) => ({ key: keyOfDemand(one), covered: one.covered as string, uncovered: one.uncovered as string })),
    );
  const framesOf = new Map(
    coverage.map(({ key, covered, uncovered }) => [key, { covered: Number(covered), uncovered: Number(uncovered) }]),
  );
  return rows.map((row) => ({
    ...row,
    symbolId: row.symbolId === '' ? null : row.symbolId,
    name: row.name === '' ? null : row.name,
    found: row.found === 1,
    reports: Number(row.reports),
    people: Number(row.people),
    frames: framesOf.get(keyOfDemand(row)) ?? { covered: 0, uncovered: 0 },
  }));
}

const keyOfDemand = ({ version, build, kind, symbolId, name, found }: Readonly<Record<string, unknown>>): string =>
  JSON.stringify([version, build, kind, symbolId, name, found]);
