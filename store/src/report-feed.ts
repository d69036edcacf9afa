import type { ReportKind } from '@rough-ember/core/report/report-kinds';
import type { IndexedReport } from '@rough-ember/core/report-index/report-index';
import type { Term } from '@rough-ember/core/report-index/report-terms';
import { unpackTermIds } from '@rough-ember/core/report-index/term-ids';
import type { Knex } from 'knex';
import { type Position, readChanges } from './change-log.ts';
import type { Database } from './database.ts';

/** A term with its id. */
export interface StoredTerm extends Term {
  readonly id: number;
}

/** Plain numbers in the order of `toIndexed`: a million rows are read at every start. */
const columns = `reports.id, CAST(1000 * UNIX_TIMESTAMP(occurred_at) AS SIGNED), kind, version, excluded, state = 'waiting', case_id, person_key, weight, report_terms.terms`;
const join = 'LEFT JOIN report_terms ON report_terms.report_row = reports.id';

type Row = readonly [number, number, ReportKind, string, number, number, number | null, Buffer | null, number, Buffer | null];

const toIndexed = ([id, at, kind, version, excluded, waiting, caseId, person, weight, terms]: Row): IndexedReport => ({
  id,
  at: Number(at),
  kind,
  version,
  excluded: excluded === 1,
  waiting: waiting === 1,
  caseId,
  person,
  weight,
  terms: terms === null ? [] : unpackTermIds(terms),
});

async function readRows(database: Database, sql: string, values: readonly Knex.RawBinding[]): Promise<IndexedReport[]> {
  const [rows]: [Row[]] = await database.raw(sql, values).options({ rowsAsArray: true });
  return rows.map(toIndexed);
}

/** All reports of an app that come after another one, by id, at most `limit`. */
export async function readReportsAfter(database: Database, appId: number, afterId: number, limit: number): Promise<IndexedReport[]> {
  // Left to itself the database sorts all reports of the app again for each part.
  return readRows(
    database,
    `SELECT ${columns} FROM reports FORCE INDEX (PRIMARY) ${join} WHERE reports.app_id = ? AND reports.id > ? ORDER BY reports.id LIMIT ?`,
    [appId, afterId, limit],
  );
}

/** The rows of reports that changed after a position, came or went; null when that is not known any more. */
export async function listChangedReports(
  database: Database,
  appId: number,
  after: Position,
): Promise<{ readonly rows: readonly number[]; readonly position: Position; readonly isAll: boolean } | null> {
  const changes = await readChanges(database, appId, 'report', after);
  return changes && { ...changes, rows: changes.keys.map((key) => Number(key.readBigUInt64BE())) };
}

/** Reports by id. */
export async function readReports(database: Database, appId: number, ids: readonly number[]): Promise<IndexedReport[]> {
  const reports: IndexedReport[] = [];
  for (let at = 0; at < ids.length; at += 2_000) {
    const some = ids.slice(at, at + 2_000);
    const places = some.map(() => '?').join(', ');
    const sql = `SELECT ${columns} FROM reports ${join} WHERE reports.app_id = ? AND reports.id IN (${places})`;
    reports.push(...(await readRows(database, sql, [appId, ...some])));
  }
  return reports;
}

/** Terms of an app by id, at most `limit` after one; or just those that are asked for. */
export async function readTerms(
  database: Database,
  appId: number,
  wanted: { readonly afterId: number; readonly limit: number } | { readonly ids: readonly number[] },
): Promise<StoredTerm[]> {
  const query = database('terms')
    .where({ app_id: appId })
    .orderBy('id')
    .select<StoredTerm[]>({ id: 'id', field: 'field', key: 'term_key', value: 'value' });
  return 'ids' in wanted ? query.whereIn('id', wanted.ids) : query.where('id', '>', wanted.afterId).limit(wanted.limit);
}

const rowsInARun = 10_000;

/** What a run of an app's reports is known by: two that agree hold the same reports in the same cases. */
export interface ReportRun {
  /** The rows of the run begin here; it is as long as all of them. */
  readonly from: number;
  readonly reports: number;
  readonly sum: number;
}

/** What a report adds to the sum of its run; small enough that a run's sum is exact in a double. */
export const sumOfReport = ({ id, caseId, excluded, waiting }: Pick<IndexedReport, 'id' | 'caseId' | 'excluded' | 'waiting'>): number =>
  (id % 1_000_003) + ((caseId ?? 0) % 1_000_003) * 7 + (excluded ? 3 : 0) + (waiting ? 5 : 0);

export const runOf = (id: number): number => id - (id % rowsInARun);

/** All runs of an app as the database has them. */
export async function sumReportRuns(database: Database, appId: number): Promise<ReportRun[]> {
  const [rows] = (await database.raw(
    `SELECT id - id % ? AS \`from\`, COUNT(*) AS reports,
       SUM(id % 1000003 + (COALESCE(case_id, 0) % 1000003) * 7 + excluded * 3 + (state = 'waiting') * 5) AS sum
     FROM reports WHERE app_id = ? GROUP BY \`from\``,
    [rowsInARun, appId],
  )) as [{ from: number; reports: number; sum: number | string }[]];
  return rows.map(({ from, reports, sum }) => ({ from: Number(from), reports: Number(reports), sum: Number(sum) }));
}

/** The reports of a run. */
export async function readReportRun(database: Database, appId: number, from: number): Promise<IndexedReport[]> {
  const sql = `SELECT ${columns} FROM reports ${join} WHERE reports.app_id = ? AND reports.id >= ? AND reports.id < ?`;
  return readRows(database, sql, [appId, from, from + rowsInARun]);
}
