import type { Report } from '@rough-ember/core/report/report';
import { type SessionItem, sessionItemSchema } from '@rough-ember/core/report/session';
import type { ReadableReport } from '@rough-ember/core/symbolicate/readable-report';
import type { Knex } from 'knex';
import { type Database, inTransaction } from './database.ts';
import { insertRows } from './insert-rows.ts';
import { bodiesAtOnceBytes, partsOfSize, reportBytes } from './parts-of-size.ts';
import { readableForm, reportForm } from './stored-forms.ts';
import { readStored, type StoredForm, writeStored } from './stored-json.ts';
import { uuidBytes } from './uuid.ts';

/** Where reports and sessions of an app are forwarded to. */
export interface Forward {
  readonly address: string;
  readonly headerName: string | null;
  /** Encrypted. */
  readonly headerValue: Buffer | null;
  /** An owner lets it lead into the network of the server. */
  readonly mayReachPrivate: boolean;
  readonly changedBy: string;
}

/** How forwarding goes. */
export interface ForwardState {
  /** Attempts since the last one that was taken. */
  readonly attempts: number;
  readonly nextTryAt: Date;
  readonly sentAt: Date | null;
  readonly sent: number;
  /** By the receiver, for good. */
  readonly refused: number;
  readonly problem: string | null;
  readonly waiting: number;
}

const forwardColumns = {
  address: 'address',
  headerName: 'header_name',
  headerValue: 'header_value',
  mayReachPrivate: 'may_reach_private',
  changedBy: 'changed_by',
};

export async function findForward(database: Database, appId: number): Promise<(Forward & ForwardState) | null> {
  const row = await database('forwards')
    .where({ app_id: appId })
    .first({
      ...forwardColumns,
      attempts: 'attempts',
      nextTryAt: 'next_try_at',
      sentAt: 'sent_at',
      sent: 'sent',
      refused: 'refused',
      problem: 'problem',
    });
  if (!row) return null;
  const [queued] = await database('forward_queue').where({ app_id: appId }).count({ waiting: '*' });
  return {
    ...row,
    mayReachPrivate: row.mayReachPrivate === 1,
    sent: Number(row.sent),
    refused: Number(row.refused),
    waiting: Number(queued?.waiting ?? 0),
  };
}

/** Puts where to forward in place of what was there; what waits goes the new way at once. */
export async function keepForward(database: Database, appId: number, forward: Forward, now: Date): Promise<void> {
  const { address, headerName, headerValue, mayReachPrivate, changedBy } = forward;
  const chosen = {
    ...{ address, header_name: headerName, header_value: headerValue, may_reach_private: mayReachPrivate, changed_by: changedBy },
    ...{ attempts: 0, next_try_at: now, problem: null, leased_until: null },
  };
  await database('forwards')
    .insert({ app_id: appId, ...chosen })
    .onConflict('app_id')
    .merge(chosen);
}

/** Forwards no more, and forgets what waits for it. */
export async function removeForward(database: Database, appId: number): Promise<boolean> {
  const removed = await database('forwards').where({ app_id: appId }).delete();
  await database('forward_queue').where({ app_id: appId }).delete();
  return removed > 0;
}

/** Queues reports that were processed for the first time, where their app forwards. */
export async function queueForwardedReports(transaction: Knex.Transaction, rows: readonly number[]): Promise<void> {
  if (rows.length === 0) return;
  await transaction.raw(
    `INSERT INTO forward_queue (app_id, report_row, queued_at)
     SELECT reports.app_id, reports.id, UTC_TIMESTAMP(3) FROM reports JOIN forwards ON forwards.app_id = reports.app_id
     WHERE reports.id IN (${rows.map(() => '?').join(', ')}) AND NOT reports.excluded ORDER BY reports.id`,
    [...rows],
  );
}

const sessionItemForm: StoredForm<SessionItem> = { column: 'forward_queue.session_item', upgrades: [], schema: sessionItemSchema };

/** Queues items of sessions, where their app forwards. */
export async function queueForwardedSessions(
  transaction: Knex.Transaction,
  { appId, items, now }: { appId: number; items: readonly SessionItem[]; now: Date },
): Promise<void> {
  if (items.length === 0 || !(await transaction('forwards').where({ app_id: appId }).first('app_id'))) return;
  await insertRows(
    transaction,
    'forward_queue',
    items.map((item) => ({
      app_id: appId,
      session_id: uuidBytes(item.id),
      session_item: writeStored(sessionItemForm, item),
      queued_at: now,
    })),
  );
}

/** How much waits to be forwarded, of all apps. */
export async function countForwardQueue(database: Database): Promise<number> {
  const [queued] = await database('forward_queue').count({ waiting: '*' });
  return Number(queued?.waiting ?? 0);
}

/** Apps of which something waits to be forwarded now. */
export async function listDueForwards(database: Database, now: Date): Promise<number[]> {
  return database('forwards')
    .where('next_try_at', '<=', now)
    .where((free) => free.whereNull('leased_until').orWhere('leased_until', '<', now))
    .whereExists(database('forward_queue').whereRaw('forward_queue.app_id = forwards.app_id'))
    .pluck('app_id');
}

/** Takes the forwarding of an app for a while; false where another process has it. */
export async function leaseForward(database: Database, appId: number, { now, until }: { now: Date; until: Date }): Promise<boolean> {
  const taken = await database('forwards')
    .where({ app_id: appId })
    .where((free) => free.whereNull('leased_until').orWhere('leased_until', '<', now))
    .update({ leased_until: until });
  return taken === 1;
}

/** Something that waits to be forwarded. */
export interface QueuedForward {
  readonly id: number;
  readonly report: { readonly report: Report; readonly readable: ReadableReport | null; readonly caseNumber: number | null } | null;
  readonly session: SessionItem | null;
}

/** What has waited longest, at most `limit` and as much as is read at once; a report that was deleted meanwhile is told as nothing. */
export async function readForwardQueue(database: Database, appId: number, limit: number): Promise<QueuedForward[]> {
  const waiting: { id: number; bytes: number | string | null }[] = await database('forward_queue')
    .leftJoin('reports', 'reports.id', 'forward_queue.report_row')
    .where({ 'forward_queue.app_id': appId })
    .orderBy('forward_queue.id')
    .limit(limit)
    .select({ id: 'forward_queue.id', bytes: database.raw(`IF(report_row IS NULL, 0, ${reportBytes})`) });
  const [some = []] = partsOfSize(waiting, ({ bytes }) => Number(bytes), bodiesAtOnceBytes);
  const rows: { id: number; session: string | null; body: string | null; readable: string | null; caseNumber: number | null }[] =
    await database('forward_queue')
      .leftJoin('reports', 'reports.id', 'forward_queue.report_row')
      .leftJoin('report_bodies', 'report_bodies.report_row', 'reports.id')
      .leftJoin('cases', 'cases.id', 'reports.case_id')
      .whereIn(
        'forward_queue.id',
        some.map(({ id }) => id),
      )
      .orderBy('forward_queue.id')
      .select({
        id: 'forward_queue.id',
        session: 'session_item',
        body: 'report_bodies.body',
        readable: 'report_bodies.readable',
        caseNumber: 'cases.number',
      });
  return rows.map(({ id, session, body, readable, caseNumber }) => ({
    id,
    session: session === null ? null : readStored(sessionItemForm, session),
    report:
      body === null || body === ''
        ? null
        : {
            report: readStored(reportForm, body),
            readable: readable === null ? null : readStored(readableForm, readable),
            caseNumber,
          },
  }));
}

/** Takes what was sent, or will never be taken, out of the queue. */
export async function finishForwards(
  database: Database,
  appId: number,
  { ids, sent, refused, problem, now }: { ids: readonly number[]; sent: number; refused: number; problem: string | null; now: Date },
): Promise<void> {
  await inTransaction(database, async (transaction) => {
    if (ids.length > 0) await transaction('forward_queue').where({ app_id: appId }).whereIn('id', ids).delete();
    await transaction('forwards')
      .where({ app_id: appId })
      .update({
        ...{ leased_until: null, attempts: 0, next_try_at: now, sent_at: now, problem },
        sent: transaction.raw('sent + ?', [sent]),
        refused: transaction.raw('refused + ?', [refused]),
      });
  });
}

/** Lets the queue wait for another attempt. */
export async function postponeForward(
  database: Database,
  appId: number,
  { nextTryAt, problem }: { nextTryAt: Date; problem: string },
): Promise<void> {
  await database('forwards')
    .where({ app_id: appId })
    .update({ leased_until: null, attempts: database.raw('attempts + 1'), next_try_at: nextTryAt, problem: problem.slice(0, 1_000) });
}

/** Forgets what waited since before a time, at most `limit`; gives how many went. */
export const pruneForwardQueue = async (database: Database, before: Date, limit: number): Promise<number> =>
  database('forward_queue').where('queued_at', '<', before).limit(limit).delete();
