import { type CaseOrder, defaultCaseOrder } from '@rough-ember/core/cases/case-order';
import type { CaseStanding } from '@rough-ember/core/cases/case-standing';
import type { ReportKind } from '@rough-ember/core/report/report-kinds';
import { printScope, type Scope } from '@rough-ember/core/scope/scope';
import { compareVersions } from '@rough-ember/core/version/version-order';
import type { App } from '@rough-ember/store/apps';
import { type CaseRow, countInScope, listCases, type ScopeTotals } from '@rough-ember/store/cases';
import type { Database } from '@rough-ember/store/database';
import { listVersions } from '@rough-ember/store/reports';

/** A case as the desk shows it. Times are ISO texts in UTC. */
export interface CaseItem {
  /** `LG-142` */
  readonly ref: string;
  readonly kind: ReportKind;
  readonly state: CaseStanding['state'];
  /** The version it was closed in. */
  readonly closedIn: string | null;
  readonly mute: CaseStanding['mute'];
  readonly assignee: string | null;
  readonly what: string;
  readonly where: string;
  readonly message: string | null;
  readonly provisional: boolean;
  readonly reports: number;
  readonly people: number;
  readonly firstVersion: string;
  readonly lastVersion: string;
  /** The first report of its whole life, and the last in the scope. */
  readonly beganAt: string;
  readonly lastAt: string;
  /** Reports in each of the list's versions, oldest first. */
  readonly strip: readonly number[];
  readonly trend: readonly number[];
}

/** A cell of the version strips, and how many reports the version sent in all. */
export interface StripVersion {
  readonly version: string;
  readonly reports: number;
}

export interface CaseList {
  readonly scope: Scope;
  /** The scope as address parameters. */
  readonly address: string;
  readonly order: CaseOrder;
  readonly totals: ScopeTotals;
  /** Every version that sent reports, oldest first. */
  readonly versions: readonly string[];
  /** The versions of the strips: the latest of them, oldest first. */
  readonly stripVersions: readonly StripVersion[];
  readonly cases: readonly CaseItem[];
  /** Whether there are more cases than these. */
  readonly cut: boolean;
  readonly now: string;
}

const listedCases = 500;
const stripCells = 12;

/** The cases of a scope, in the order that is asked for. */
export async function loadCaseList(
  database: Database,
  { app, scope, order = defaultCaseOrder, now }: { app: App; scope: Scope; order?: CaseOrder; now: Date },
): Promise<CaseList> {
  const [rows, totals, versions] = await Promise.all([
    listCases(database, { appId: app.id, scope, now, limit: listedCases + 1, order }),
    countInScope(database, { appId: app.id, scope, now }),
    loadVersions(database, app),
  ]);
  const stripVersions = latestVersions(versions);
  return {
    scope,
    address: printScope(scope),
    order,
    totals,
    versions: versions.map((one) => one.version),
    stripVersions,
    cases: rows.slice(0, listedCases).map((row) => toCaseItem(app, row, stripVersions)),
    cut: rows.length > listedCases,
    now: now.toISOString(),
  };
}

/** The versions of an app that sent reports, oldest first, their builds taken together. */
export async function loadVersions(database: Database, app: App): Promise<StripVersion[]> {
  const byVersion = new Map<string, number>();
  for (const { version, reports } of await listVersions(database, app.id)) byVersion.set(version, (byVersion.get(version) ?? 0) + reports);
  return [...byVersion].map(([version, reports]) => ({ version, reports })).sort((a, b) => compareVersions(a.version, b.version));
}

/** The versions that fit a strip. */
export const latestVersions = (versions: readonly StripVersion[]): readonly StripVersion[] => versions.slice(-stripCells);

export function toCaseItem(app: App, row: CaseRow, stripVersions: readonly StripVersion[]): CaseItem {
  const ordered = row.byVersion.map((one) => one.version).sort(compareVersions);
  const reportsOf = new Map(row.byVersion.map((one) => [one.version, one.reports]));
  return {
    ref: `${app.prefix}-${row.number}`,
    kind: row.kind,
    state: row.state,
    closedIn: row.closedIn,
    mute: row.mute,
    assignee: row.assignee,
    what: row.what,
    where: row.where,
    message: row.message,
    provisional: row.provisional,
    reports: row.reports,
    people: row.people,
    firstVersion: ordered[0] ?? '',
    lastVersion: ordered.at(-1) ?? '',
    beganAt: new Date(Math.min(...row.byVersion.map((one) => one.firstAt.getTime()))).toISOString(),
    lastAt: row.lastAt.toISOString(),
    strip: stripVersions.map(({ version }) => reportsOf.get(version) ?? 0),
    trend: row.trend,
  };
}
