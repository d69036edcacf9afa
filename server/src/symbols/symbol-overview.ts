import type { MappingSummary } from '@rough-ember/core/symbols/mapping/index-layout';
import { compareVersions } from '@rough-ember/core/version/version-order';
import type { App } from '@rough-ember/store/apps';
import type { Database } from '@rough-ember/store/database';
import { countJobs } from '@rough-ember/store/jobs';
import { listSymbolDemand, listSymbolFiles, type SymbolFile } from '@rough-ember/store/symbol-files';

/** A symbol file as pages and the command line see it. */
export interface SymbolFileView {
  readonly id: number;
  readonly fileName: string;
  readonly kind: 'mapping';
  readonly version: string;
  readonly build: string;
  readonly mapId: string | null;
  readonly sizeBytes: number;
  readonly state: SymbolFile['state'];
  readonly problem: string | null;
  readonly summary: MappingSummary | null;
  readonly uploadedBy: string;
  readonly createdAt: string;
  /** No report of its build has asked for it. */
  readonly unused: boolean;
}

/** A build that sent reports: what it needs and whether it is there. */
export interface BuildNeed {
  readonly version: string;
  readonly build: string;
  readonly mapId: string | null;
  readonly covered: boolean;
  /** Reports and people whose stacks the missing file leaves unreadable; 0 when covered. */
  readonly costReports: number;
  readonly costPeople: number;
  readonly reports: number;
}

export interface SymbolOverview {
  readonly needs: readonly BuildNeed[];
  readonly files: readonly SymbolFileView[];
  /** Reports being processed at the moment, those that a new file sent round again among them. */
  readonly reportsInWork: number;
}

export function toSymbolFileView(file: SymbolFile, unused: boolean): SymbolFileView {
  const { id, fileName, kind, version, build, mapId, sizeBytes, state, problem, summary, uploadedBy } = file;
  return {
    id,
    fileName,
    kind,
    version,
    build,
    mapId,
    sizeBytes,
    state,
    problem,
    summary,
    uploadedBy,
    createdAt: file.createdAt.toISOString(),
    unused,
  };
}

/** What running builds need against what is there. */
export async function loadSymbolOverview(database: Database, app: App): Promise<SymbolOverview> {
  const [demand, files, jobs] = await Promise.all([
    listSymbolDemand(database, app.id),
    listSymbolFiles(database, app.id),
    countJobs(database, app.id),
  ]);
  const byNeed = new Map<string, BuildNeed>();
  for (const { version, build, mapId, found, reports, people } of demand) {
    const key = JSON.stringify([version, build, mapId]);
    const known = byNeed.get(key) ?? { version, build, mapId, covered: true, costReports: 0, costPeople: 0, reports: 0 };
    byNeed.set(key, {
      ...known,
      covered: known.covered && found,
      costReports: known.costReports + (found ? 0 : reports),
      costPeople: known.costPeople + (found ? 0 : people),
      reports: known.reports + reports,
    });
  }
  const needs = [...byNeed.values()].sort((a, b) => compareVersions(b.version, a.version) || b.reports - a.reports);
  const isUsed = (file: SymbolFile) =>
    needs.some((need) => (need.mapId === null ? need.version === file.version && need.build === file.build : need.mapId === file.mapId));
  return {
    needs,
    files: files.map((file) => toSymbolFileView(file, file.state === 'ready' && !isUsed(file))),
    reportsInWork: jobs['process-report'],
  };
}
