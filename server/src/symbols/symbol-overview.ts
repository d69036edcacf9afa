import { wordFit } from '@rough-ember/core/symbolicate/judge-fit';
import type { FrameCoverage, SymbolNeed } from '@rough-ember/core/symbolicate/readable-report';
import type { SymbolFileKind } from '@rough-ember/core/symbols/families';
import { familyOf } from '@rough-ember/core/symbols/families';
import { isWantedId } from '@rough-ember/core/symbols/symbol-id';
import { compareVersions } from '@rough-ember/core/version/version-order';
import type { App } from '@rough-ember/store/apps';
import type { Database } from '@rough-ember/store/database';
import { countJobs } from '@rough-ember/store/jobs';
import { buildTiedKinds } from '@rough-ember/store/replaced-symbol-files';
import { listSymbolDemand, listSymbolFiles, listSymbolParts, type SymbolFile, type SymbolPart } from '@rough-ember/store/symbol-files';

/** A symbol file as pages and the command line see it. */
export type { SymbolPart };

export interface SymbolFileView {
  readonly id: number;
  readonly fileName: string;
  readonly kind: SymbolFileKind;
  /** Empty when only its ids tie the file to a build. */
  readonly version: string;
  readonly build: string;
  readonly sizeBytes: number;
  readonly state: SymbolFile['state'];
  readonly problem: string | null;
  readonly parts: readonly SymbolPart[];
  readonly uploadedBy: string;
  readonly createdAt: string;
  /** No report has asked for it. */
  readonly unused: boolean;
  /** The file of the same build that is used in its place. */
  readonly replacedBy: number | null;
  /** Other builds that have a file of the same content, which can be right for one of them only. */
  readonly alsoOf: readonly { readonly version: string; readonly build: string }[];
}

/** A file that a build which sent reports needs, and whether it is there. */
export interface BuildNeed extends SymbolNeed {
  readonly version: string;
  readonly build: string;
  readonly covered: boolean;
  /** Reports and people whose stacks the missing file leaves unreadable; 0 when covered. */
  readonly costReports: number;
  readonly costPeople: number;
  readonly reports: number;
  /** Its index holds warnings. */
  readonly hasWarnings: boolean;
  /** Distinct frames that the file which is there restored, and that do not occur in it. */
  readonly frames: FrameCoverage;
  /** What the frames say against the file, in a sentence; null when it fits. */
  readonly misfit: string | null;
}

export interface SymbolOverview {
  readonly needs: readonly BuildNeed[];
  readonly files: readonly SymbolFileView[];
  /** Reports being processed at the moment, those that a new file sent round again among them. */
  readonly reportsInWork: number;
}

export function toSymbolFileView(
  file: SymbolFile,
  parts: readonly SymbolPart[],
  { unused = false, alsoOf = [] }: Partial<Pick<SymbolFileView, 'unused' | 'alsoOf'>> = {},
): SymbolFileView {
  const { id, fileName, kind, version, build, sizeBytes, state, problem, replacedBy, uploadedBy } = file;
  return {
    id,
    fileName,
    kind,
    version,
    build,
    sizeBytes,
    state,
    problem,
    parts,
    uploadedBy,
    createdAt: file.createdAt.toISOString(),
    unused,
    replacedBy,
    alsoOf,
  };
}

/** What running builds need against what is there. */
export async function loadSymbolOverview(database: Database, app: App): Promise<SymbolOverview> {
  const [demand, files, parts, jobs] = await Promise.all([
    listSymbolDemand(database, app.id),
    listSymbolFiles(database, app.id),
    listSymbolParts(database, app.id),
    countJobs(database, app.id),
  ]);
  const ties = files.flatMap((file) => (parts.get(file.id) ?? []).map((part) => ({ file, part })));
  const byNeed = new Map<string, BuildNeed>();
  for (const { version, build, kind, symbolId, name, found, reports, people, frames } of demand) {
    const key = JSON.stringify([version, build, kind, symbolId, name]);
    const need = { version, build, kind, symbolId, name };
    const known = byNeed.get(key) ?? {
      ...need,
      covered: true,
      costReports: 0,
      costPeople: 0,
      reports: 0,
      frames: { covered: 0, uncovered: 0 },
      misfit: null,
      hasWarnings: ties.some(({ file, part }) => fits(need, file, part) && warningsOf(part) > 0),
    };
    byNeed.set(key, {
      ...known,
      covered: known.covered && found,
      costReports: known.costReports + (found ? 0 : reports),
      costPeople: known.costPeople + (found ? 0 : people),
      reports: known.reports + reports,
      frames: { covered: known.frames.covered + frames.covered, uncovered: known.frames.uncovered + frames.uncovered },
    });
  }
  const needs = [...byNeed.values()]
    .map((need) => ({ ...need, misfit: need.covered ? wordFit(need.frames) : null }))
    .sort((a, b) => compareVersions(b.version, a.version) || b.reports - a.reports);
  return {
    needs,
    files: files.map((file) => {
      const own = parts.get(file.id) ?? [];
      const isUsed = own.some((part) => needs.some((need) => fits(need, file, part)));
      return toSymbolFileView(file, own, { unused: file.state === 'ready' && !isUsed, alsoOf: alsoOf(file, files) });
    }),
    reportsInWork: jobs['process-report'],
  };
}

/** Whether a part of a file is what a need asks for. */
function fits(need: SymbolNeed & { version: string; build: string }, file: SymbolFile, part: SymbolPart): boolean {
  if (part.kind !== need.kind) return false;
  if (need.symbolId !== null && (part.symbolId !== null || !familyOf(part.kind).mayLoseId))
    return part.symbolId !== null && isWantedId(part.kind, need.symbolId, part.symbolId);
  return (
    file.version === need.version && file.build === need.build && (part.name === null || need.name === null || part.name === need.name)
  );
}

/** Builds that have a file of the same content; a mapping of one build is of no other. */
function alsoOf(file: SymbolFile, files: readonly SymbolFile[]): { version: string; build: string }[] {
  if (file.version === '' || !buildTiedKinds.includes(file.kind)) return [];
  const same = files.filter(
    (other) =>
      other.sha256.equals(file.sha256) &&
      (other.state === 'ready' || other.state === 'indexing') &&
      other.version !== '' &&
      (other.version !== file.version || other.build !== file.build),
  );
  return same.map(({ version, build }) => ({ version, build }));
}

/** How much of a file its index could not read. */
function warningsOf({ summary }: SymbolPart): number {
  const { warningCount, unreadableLines } = summary as { warningCount?: number; unreadableLines?: number };
  return warningCount ?? unreadableLines ?? 0;
}
