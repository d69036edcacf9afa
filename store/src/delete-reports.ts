import type { Knex } from 'knex';
import { type Database, inTransaction } from './database.ts';
import type { LoggedLine } from './intake-outcomes.ts';
import { queueJobs, queueOnce } from './jobs.ts';
import { queueSweepOfTerms } from './terms.ts';
import { uuidText } from './uuid.ts';

/**
 * Deletes reports for good, with their attachments, what the intake log says of them, and whatever was still to be done with
 * them. A case that is left without any goes too; the words of the others are made again of the reports that stay.
 */
export async function deleteReports(transaction: Knex.Transaction, appId: number, rows: readonly number[]): Promise<void> {
  if (rows.length === 0) return;
  const going: { reportId: Buffer; caseId: number | null; receivedAt: Date }[] = await transaction('reports')
    .where({ app_id: appId })
    .whereIn('id', rows)
    .select({ reportId: 'report_id', caseId: 'case_id', receivedAt: 'received_at' });
  const ids = going.map(({ reportId }) => reportId);
  const caseIds = [...new Set(going.flatMap(({ caseId }) => caseId ?? []))].sort((a, b) => a - b);
  // Whoever places a report in one of these cases right now is waited for, or waits.
  await transaction('cases').whereIn('id', caseIds).orderBy('id').forUpdate().select('id');
  await transaction('attachments').where({ app_id: appId }).whereIn('report_id', ids).delete();
  await transaction('jobs').where({ kind: 'process-report' }).whereIn('subject_id', rows).delete();
  await transaction('report_needs').whereIn('report_row', rows).delete();
  await transaction('report_terms').whereIn('report_row', rows).delete();
  await transaction('report_bodies').whereIn('report_row', rows).delete();
  await transaction('reports').where({ app_id: appId }).whereIn('id', rows).delete();
  await clearLog(transaction, appId, going);
  await tidyCases(transaction, appId, caseIds);
  await queueSweepOfTerms(transaction, appId);
}

const logWindowMs = 120_000;

/** The intake log goes on counting these reports, but says nothing of them any more. */
async function clearLog(
  transaction: Knex.Transaction,
  appId: number,
  reports: readonly { readonly reportId: Buffer; readonly receivedAt: Date }[],
): Promise<void> {
  const ids = new Set(reports.map(({ reportId }) => uuidText(reportId)));
  const isOfThem = ({ reportId, details }: LoggedWords) =>
    (reportId !== null && ids.has(uuidText(reportId))) || details?.some(({ id }) => id !== undefined && ids.has(id)) === true;
  for (const [from, to] of windowsOf(reports.map(({ receivedAt }) => receivedAt.getTime()))) {
    const rows: LoggedWords[] = await transaction('intake_log')
      .where({ app_id: appId })
      .whereBetween('at', [new Date(from), new Date(to)])
      .where((words) => words.whereNotNull('report_id').orWhereNotNull('details'))
      .select({ row: 'id', reportId: 'report_id', details: 'details' });
    await transaction('intake_log')
      .whereIn(
        'id',
        rows.filter(isOfThem).map(({ row }) => row),
      )
      .update({ report_id: null, details: null, reason: null, client: null, what: 'reports that were deleted' });
  }
}

interface LoggedWords {
  readonly row: number;
  readonly reportId: Buffer | null;
  readonly details: readonly LoggedLine[] | null;
}

/** The times around arrivals in which their requests were logged, those that overlap as one: a request is logged when it was answered. */
function windowsOf(arrivals: readonly number[]): [from: number, to: number][] {
  const windows: [number, number][] = [];
  for (const at of [...arrivals].sort((a, b) => a - b)) {
    const last = windows.at(-1);
    if (last && at - logWindowMs <= last[1]) last[1] = at + logWindowMs;
    else windows.push([at - logWindowMs, at + logWindowMs]);
  }
  return windows;
}

/** Cases that hold nothing any more go, with those that were merged into them; the words of the others are made again. */
async function tidyCases(transaction: Knex.Transaction, appId: number, caseIds: readonly number[]): Promise<void> {
  if (caseIds.length === 0) return;
  const held = new Set<number>(await transaction('reports').whereIn('case_id', caseIds).distinct('case_id').pluck('case_id'));
  await transaction('previewed_groups').whereIn('case_id', caseIds).delete();
  await deleteCases(
    transaction,
    caseIds.filter((id) => !held.has(id)),
  );
  const left: number[] = await transaction('cases')
    .whereIn('id', [...held])
    .whereNull('deleted_at')
    .pluck('id');
  for (const id of left) await queueOnce(transaction, { kind: 'retitle-case', appId, priority: 'arrived' }, id);
}

const atOnce = 200;

/** Deletes some of the reports of a case; gives how many went. */
export async function deleteReportsOfCase(database: Database, appId: number, caseId: number): Promise<number> {
  return inTransaction(database, async (transaction) => {
    const rows: number[] = await transaction('reports').where({ app_id: appId, case_id: caseId }).limit(atOnce).pluck('id');
    await deleteReports(transaction, appId, rows);
    return rows.length;
  });
}

/**
 * Takes a case away from everybody at once and has its reports deleted. Later reports of its cause make a new case. Gives how many
 * reports it has; null when it is not there.
 */
export async function startDeletingCase(database: Database, appId: number, caseId: number): Promise<number | null> {
  return inTransaction(database, async (transaction) => {
    const going = await transaction('cases').where({ app_id: appId, id: caseId, deleted_at: null }).forUpdate().first('id');
    if (!going) return null;
    await transaction('case_keys').where({ case_id: caseId }).delete();
    await transaction('cases')
      .where({ id: caseId })
      .update({ deleted_at: transaction.raw('UTC_TIMESTAMP(3)') });
    const [row] = await transaction('reports').where({ case_id: caseId }).count({ count: '*' });
    await queueJobs(transaction, { kind: 'delete-case', appId, priority: 'arrived' }, [caseId]);
    return Number(row?.count);
  });
}

/** Deletes a case whose reports have gone, if it is still there. */
export async function deleteEmptyCase(database: Database, caseId: number): Promise<void> {
  await inTransaction(database, async (transaction) => {
    const left = await transaction('reports').where({ case_id: caseId }).first('id');
    if (!left) await deleteCases(transaction, [caseId]);
  });
}

/** Deletes cases that hold no report, with their history and what was merged into them. */
export async function deleteCases(transaction: Knex.Transaction, caseIds: readonly number[]): Promise<void> {
  for (let ids = caseIds; ids.length > 0; ) {
    const merged: number[] = await transaction('cases').whereIn('merged_into', ids).pluck('id');
    await transaction('previewed_groups').whereIn('case_id', ids).delete();
    await transaction('cases').whereIn('id', ids).delete();
    ids = merged;
  }
}
