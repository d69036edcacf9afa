import { createHash } from 'node:crypto';
import { type CaseOrder, defaultCaseOrder } from '@rough-ember/core/cases/case-order';
import type { CaseStanding, CaseState } from '@rough-ember/core/cases/case-standing';
import type { Grouping } from '@rough-ember/core/grouping/group-report';
import type { ReportKind } from '@rough-ember/core/report/report-kinds';
import type { CaseScope, Scope } from '@rough-ember/core/scope/scope';
import type { Database } from './database.ts';
import { type ReportDetail, readReportDetail } from './reports.ts';
import { withinScope } from './scope-query.ts';

/** A case as a list shows it; counts are those of the scope, versions those of its whole life. */
export interface CaseRow {
  readonly id: number;
  readonly number: number;
  readonly kind: ReportKind;
  readonly state: CaseState;
  readonly closedIn: CaseStanding['closedIn'];
  readonly mute: CaseStanding['mute'];
  readonly assignee: CaseStanding['assignee'];
  readonly what: string;
  readonly where: string;
  readonly message: string | null;
  readonly culprit: Grouping['culprit'];
  readonly provisional: boolean;
  readonly reports: number;
  readonly people: number;
  readonly firstAt: Date;
  readonly lastAt: Date;
  /** Reports of each version that had any, in any order, and when the first of them happened. */
  readonly byVersion: readonly { readonly version: string; readonly reports: number; readonly firstAt: Date }[];
  /** Reports over the window of the trend, in equal steps, the last one ending now. */
  readonly trend: readonly number[];
}

export interface ScopeTotals {
  readonly reports: number;
  readonly people: number;
  /** Accepted but not processed yet. */
  readonly waiting: number;
}

const caseColumns = {
  id: 'cases.id',
  number: 'number',
  kind: 'cases.kind',
  state: 'cases.state',
  closedIn: 'closed_in',
  mute: 'mute',
  assignee: 'assignee',
  what: 'what',
  where: 'where_text',
  message: 'message',
  culprit: 'culprit',
  provisional: 'provisional',
} as const;

const statesOf: Readonly<Record<Exclude<CaseScope, 'any'>, readonly CaseState[]>> = {
  open: ['open', 'reopened'],
  closed: ['closed'],
  muted: ['muted'],
};

/** What decides first, and what between equals; `counted` has the first three columns. */
const orderColumns: Readonly<Record<CaseOrder, readonly string[]>> = {
  reports: ['reports', 'people', 'case_id'],
  people: ['people', 'reports', 'case_id'],
  newest: ['case_id'],
  latest: ['last_at', 'case_id'],
};

/** Cases with reports in the scope in the order that is asked for, at most `limit`. */
export async function listCases(
  database: Database,
  {
    appId,
    scope,
    now,
    limit,
    caseId,
    order = defaultCaseOrder,
  }: { appId: number; scope: Scope; now: Date; limit: number; caseId?: number; order?: CaseOrder },
): Promise<CaseRow[]> {
  const inOrder = orderColumns[order].map((column) => ({ column, order: 'desc' as const }));
  const counted = withinScope(database('reports'), appId, scope, now).whereNotNull('case_id');
  if (caseId !== undefined) counted.where({ case_id: caseId });
  else if (scope.cases !== 'any')
    counted.whereIn('case_id', database('cases').where({ app_id: appId }).whereIn('state', statesOf[scope.cases]).select('id'));
  const rows: (Omit<CaseRow, 'byVersion' | 'trend' | 'provisional'> & { provisional: number })[] = await database
    .with(
      'counted',
      counted
        .groupBy('case_id')
        .select('case_id', database.raw('COUNT(*) AS reports, COUNT(DISTINCT person_key) AS people'))
        .min({ first_at: 'occurred_at' })
        .max({ last_at: 'occurred_at' })
        .orderBy(inOrder)
        .limit(limit),
    )
    .from('counted')
    .join('cases', 'cases.id', 'counted.case_id')
    .orderBy(inOrder)
    .select({ ...caseColumns, reports: 'reports', people: 'people', firstAt: 'first_at', lastAt: 'last_at' });
  const ids = rows.map((row) => row.id);
  const [byVersion, trends] = await Promise.all([countByVersion(database, ids), countTrends(database, { appId, scope, now, ids })]);
  return rows.map((row) => ({
    ...row,
    provisional: row.provisional === 1,
    byVersion: byVersion.get(row.id) ?? [],
    trend: trends.get(row.id) ?? new Array<number>(trendSteps).fill(0),
  }));
}

async function countByVersion(database: Database, ids: readonly number[]) {
  const rows: { case_id: number; version: string; reports: number; first_at: Date }[] = await database('reports')
    .whereIn('case_id', ids)
    .groupBy('case_id', 'version')
    .select('case_id', 'version')
    .min({ first_at: 'occurred_at' })
    .count({ reports: '*' });
  return collect(rows, ({ version, reports, first_at }) => ({ version, reports: Number(reports), firstAt: first_at }));
}

/** Steps of a trend, and the days it shows when the scope is all time. */
export const trendSteps = 28;
const trendDaysOfAllTime = 90;

async function countTrends(
  database: Database,
  { appId, scope, now, ids }: { appId: number; scope: Scope; now: Date; ids: readonly number[] },
): Promise<Map<number, number[]>> {
  const windowMs = (scope.days ?? trendDaysOfAllTime) * 86_400_000;
  const start = new Date(now.getTime() - windowMs);
  const step = database.raw('FLOOR(TIMESTAMPDIFF(SECOND, ?, occurred_at) / ?)', [start, windowMs / 1000 / trendSteps]);
  const rows: { case_id: number; step: number; reports: number }[] = await withinScope(database('reports'), appId, scope, now)
    .whereIn('case_id', ids)
    .where('occurred_at', '>=', start)
    .groupBy('case_id', 'step')
    .select('case_id', { step })
    .count({ reports: '*' });
  const trends = new Map<number, number[]>();
  for (const row of rows) {
    const trend = trends.get(row.case_id) ?? new Array<number>(trendSteps).fill(0);
    trends.set(row.case_id, trend);
    const at = Math.min(Number(row.step), trendSteps - 1);
    trend[at] = (trend[at] as number) + Number(row.reports);
  }
  return trends;
}

function collect<Row extends { case_id: number }, Value>(rows: readonly Row[], value: (row: Row) => Value): Map<number, Value[]> {
  const byCase = new Map<number, Value[]>();
  for (const row of rows) {
    const known = byCase.get(row.case_id);
    if (known) known.push(value(row));
    else byCase.set(row.case_id, [value(row)]);
  }
  return byCase;
}

export async function countInScope(
  database: Database,
  { appId, scope, now }: { appId: number; scope: Scope; now: Date },
): Promise<ScopeTotals> {
  const [totals] = await withinScope(database('reports'), appId, scope, now).select(
    database.raw("COUNT(*) AS reports, COUNT(DISTINCT person_key) AS people, SUM(state = 'waiting') AS waiting"),
  );
  return { reports: Number(totals.reports), people: Number(totals.people), waiting: Number(totals.waiting ?? 0) };
}

/** The id of a case by its number; a number that was merged away leads to where its reports went. */
export async function findCaseId(database: Database, appId: number, number: number): Promise<number | null> {
  const found = await database('cases').where({ app_id: appId, number }).first('id');
  if (found) return found.id;
  const redirect = await database('case_redirects').where({ app_id: appId, number }).first({ caseId: 'case_id' });
  return redirect?.caseId ?? null;
}

/** A grouping key as it is stored. */
export const hashGroupingKey = (key: string): Buffer => createHash('sha256').update(key).digest();

/** The case that reports with a grouping key are placed in, or null. */
export async function findCaseByGroupingKey(
  database: Database,
  appId: number,
  key: string,
): Promise<{ number: number; what: string; where: string } | null> {
  const found = await database('cases')
    .where({ app_id: appId, grouping_key: hashGroupingKey(key) })
    .first({ number: 'number', what: 'what', where: 'where_text' });
  return found ?? null;
}

/** How many reports of a case the scope holds. */
export async function countCaseReports(
  database: Database,
  { appId, caseId, scope, now }: { appId: number; caseId: number; scope: Scope; now: Date },
): Promise<number> {
  const [row] = await withinScope(database('reports'), appId, scope, now).where({ case_id: caseId }).count({ count: '*' });
  return Number(row?.count);
}

/** The report of a case at a position, newest first, position 0 being the newest; null beyond the last. */
export async function caseReportAt(
  database: Database,
  { appId, caseId, scope, now, position }: { appId: number; caseId: number; scope: Scope; now: Date; position: number },
): Promise<ReportDetail | null> {
  return readReportDetail(
    withinScope(database('reports'), appId, scope, now)
      .where({ case_id: caseId })
      .orderBy([
        { column: 'occurred_at', order: 'desc' },
        { column: 'reports.id', order: 'desc' },
      ])
      .offset(position),
  );
}

export const spreadColumns = { version: 'version', os: 'os_version', device: 'device_model' } as const;
export type SpreadColumn = keyof typeof spreadColumns;

/** The commonest values of each column among the reports of a case in the scope. */
export async function spreadOfCase(
  database: Database,
  { appId, caseId, scope, now }: { appId: number; caseId: number; scope: Scope; now: Date },
): Promise<Record<SpreadColumn, { value: string; reports: number }[]>> {
  const spread = async (column: string) => {
    const rows: { value: string; reports: number }[] = await withinScope(database('reports'), appId, scope, now)
      .where({ case_id: caseId })
      .whereNotNull(column)
      .groupBy(column)
      .orderBy('reports', 'desc')
      .limit(5)
      .select({ value: column })
      .count({ reports: '*' });
    return rows.map(({ value, reports }) => ({ value, reports: Number(reports) }));
  };
  const entries = Object.entries(spreadColumns).map(async ([name, column]) => [name, await spread(column)] as const);
  return Object.fromEntries(await Promise.all(entries)) as Record<SpreadColumn, { value: string; reports: number }[]>;
}
