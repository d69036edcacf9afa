import type { ReportKind } from '@rough-ember/core/report/report-kinds';
import type { IndexedReport } from '@rough-ember/core/report-index/report-index';
import type { Term } from '@rough-ember/core/report-index/report-terms';
import { unpackTermIds } from '@rough-ember/core/report-index/term-ids';
import type { Knex } from 'knex';
import type { Database } from './database.ts';

/** A moment of the database's own clock, in seconds since 1970 with six places: compared there, never here. */
export type FeedMark = string;

/** A term with its id. */
export interface StoredTerm extends Term {
  readonly id: number;
}

/** Plain numbers in the order of `toIndexed`: a million rows are read at every start. */
const columns = `reports.id, CAST(1000 * UNIX_TIMESTAMP(occurred_at) AS SIGNED), kind, version, apart, state = 'waiting', case_id, person_key, report_terms.terms`;
const join = 'LEFT JOIN report_terms ON report_terms.report_row = reports.id';

type Row = readonly [number, number, ReportKind, string, number, number, number | null, Buffer | null, Buffer | null];

const toIndexed = ([id, at, kind, version, apart, waiting, caseId, person, terms]: Row): IndexedReport => ({
  id,
  at: Number(at),
  kind,
  version,
  apart: apart === 1,
  waiting: waiting === 1,
  caseId,
  person,
  terms: terms === null ? [] : unpackTermIds(terms),
});

async function readRows(database: Database, sql: string, values: readonly Knex.RawBinding[]): Promise<IndexedReport[]> {
  const [rows]: [Row[]] = await database.raw(sql, values).options({ rowsAsArray: true });
  return rows.map(toIndexed);
}

/** Changes are committed a while after they are dated; what is younger than this is looked at again. */
const overlapSeconds = 30;

/** The mark to read changes from after everything was read. */
export async function feedMark(database: Database): Promise<FeedMark> {
  const [[row]] = await database.raw('SELECT UNIX_TIMESTAMP(CURRENT_TIMESTAMP(6)) - ? AS mark', [overlapSeconds]);
  return String(row.mark);
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

/** What has changed since a mark, by id, with when; removed reports among them. The same changes may be told again. */
export async function listChangesSince(
  database: Database,
  appId: number,
  mark: FeedMark,
): Promise<{ readonly changed: ReadonlyMap<number, string>; readonly removed: readonly number[]; readonly mark: FeedMark }> {
  // The clock is read before the changes, so that none falls between.
  const now = await feedMark(database);
  const [changed, removed]: [{ id: number; at: string }[], { id: number }[]] = await Promise.all([
    database('reports')
      .where({ app_id: appId })
      .whereRaw('changed_at >= FROM_UNIXTIME(?)', [mark])
      .select('id', database.raw('UNIX_TIMESTAMP(changed_at) AS at')),
    database('report_removals').where({ app_id: appId }).whereRaw('removed_at >= FROM_UNIXTIME(?)', [mark]).select({ id: 'report_row' }),
  ]);
  return {
    changed: new Map(changed.map(({ id, at }) => [id, String(at)])),
    removed: removed.map((one) => one.id),
    mark: Number(now) > Number(mark) ? now : mark,
  };
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

/** Forgets removals that every process has seen long ago. */
export async function pruneRemovals(database: Database): Promise<number> {
  return database('report_removals').whereRaw('removed_at < CURRENT_TIMESTAMP(6) - INTERVAL 7 DAY').delete();
}
