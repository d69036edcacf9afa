import type { Knex } from 'knex';
import { type Database, inTransaction } from './database.ts';
import { queueJobs } from './jobs.ts';
import { uuidBytes, uuidText } from './uuid.ts';

/** Reports that could not be processed for one reason. They keep their bytes and can be sent round again. */
export interface Failure {
  readonly reason: string;
  readonly reports: number;
  readonly latestReportId: string;
  readonly latestAt: Date;
}

const shownReasons = 20;

/** Why reports of an app could not be processed, the commonest reason first. */
export async function listFailures(database: Database, appId: number): Promise<Failure[]> {
  const rows: { reason: string; reports: number; latest: number }[] = await database('reports')
    .where({ app_id: appId, state: 'failed' })
    .groupBy('problem')
    .orderBy('reports', 'desc')
    .limit(shownReasons)
    .select({ reason: 'problem' })
    .count({ reports: '*' })
    .max({ latest: 'id' });
  const latest: { id: number; reportId: Buffer; at: Date }[] = await database('reports')
    .whereIn(
      'id',
      rows.map((row) => row.latest),
    )
    .select({ id: 'id', reportId: 'report_id', at: 'received_at' });
  const byId = new Map(latest.map((one) => [one.id, one]));
  return rows.flatMap(({ reason, reports, latest: id }) => {
    const one = byId.get(id);
    return one ? [{ reason, reports: Number(reports), latestReportId: uuidText(one.reportId), latestAt: one.at }] : [];
  });
}

/** Which failed reports: all, those of one reason, or one. */
export type FailedReports = { readonly all: true } | { readonly reason: string } | { readonly reportId: string };

/** Sends failed reports of an app round again, and gives how many. */
export async function retryFailed(database: Database, appId: number, which: FailedReports): Promise<number> {
  return retryWhere(database, (failed) => {
    failed.where({ app_id: appId });
    if ('reason' in which) failed.where({ problem: which.reason });
    if ('reportId' in which) failed.where({ report_id: uuidBytes(which.reportId) });
  });
}

/** Sends reports of one build round again that failed before a symbol file of it came: the file may have been the cause. */
export async function retryFailedOfBuild(
  transaction: Knex.Transaction,
  { appId, version, build }: { appId: number; version: string; build: string },
): Promise<void> {
  const ofBuild: Narrow = (failed) => void failed.where({ app_id: appId, version, build });
  while ((await retrySome(transaction, ofBuild)) === retriedAtOnce);
}

/** Sends reports round again that another version of the program could not process. */
export async function retryFailedOfOtherPrograms(database: Database, program: string): Promise<number> {
  return retryWhere(database, (failed) => {
    failed.where((either) => either.whereNot({ tried_by: program }).orWhereNull('tried_by'));
  });
}

const retriedAtOnce = 1_000;

type Narrow = (failed: Knex.QueryBuilder) => void;

async function retryWhere(database: Database, narrow: Narrow): Promise<number> {
  let retried = 0;
  for (let last = retriedAtOnce; last === retriedAtOnce; retried += last)
    last = await inTransaction(database, (transaction) => retrySome(transaction, narrow));
  return retried;
}

async function retrySome(transaction: Knex.Transaction, narrow: Narrow): Promise<number> {
  const rows: { id: number; appId: number }[] = await transaction('reports')
    .where({ state: 'failed' })
    .modify(narrow)
    .orderBy('id')
    .limit(retriedAtOnce)
    .forUpdate()
    .select({ id: 'id', appId: 'app_id' });
  const ids = rows.map(({ id }) => id);
  if (ids.length === 0) return 0;
  await transaction('reports').whereIn('id', ids).update({ state: 'waiting', problem: null, processed_at: null });
  for (const appId of new Set(rows.map((row) => row.appId)))
    await queueJobs(
      transaction,
      { kind: 'process-report', appId, priority: 'again' },
      rows.filter((row) => row.appId === appId).map(({ id }) => id),
    );
  return ids.length;
}

const forgottenAfterMinutes = 10;

/**
 * Queues what waits without a job: reports to be processed and symbol files to be indexed. Both get their job in the
 * transaction that stores them, so there are none; should a job be lost all the same, no report is.
 */
export async function queueForgotten(database: Database): Promise<number> {
  const [reports] = await database.raw(
    `INSERT INTO jobs (kind, app_id, subject_id, priority)
     SELECT 'process-report', app_id, id, 9 FROM reports
     WHERE state = 'waiting' AND received_at < UTC_TIMESTAMP() - INTERVAL ? MINUTE
       AND NOT EXISTS (SELECT 1 FROM jobs AS known WHERE known.kind = 'process-report' AND known.subject_id = reports.id) LIMIT 10000`,
    [forgottenAfterMinutes],
  );
  const [files] = await database.raw(
    `INSERT INTO jobs (kind, app_id, subject_id, priority)
     SELECT 'index-symbol-file', app_id, id, 1 FROM symbol_files
     WHERE state = 'indexing' AND created_at < UTC_TIMESTAMP() - INTERVAL ? MINUTE
       AND NOT EXISTS (SELECT 1 FROM jobs AS known WHERE known.kind = 'index-symbol-file' AND known.subject_id = symbol_files.id) LIMIT 1000`,
    [forgottenAfterMinutes],
  );
  return reports.affectedRows + files.affectedRows;
}
