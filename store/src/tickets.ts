import type { CaseState } from '@rough-ember/core/cases/case-status';
import type { Knex } from 'knex';
import { type Database, inTransaction } from './database.ts';
import { uuidBytes, uuidText } from './uuid.ts';

export type TicketWork = 'make' | 'close' | 'open';

/** A ticket of a case in the tracker of its app. */
export interface Ticket {
  readonly id: number;
  readonly appId: number;
  readonly caseId: number;
  /** A UUID, the same at every attempt to make it. */
  readonly requestId: string;
  /** Null until the tracker has made it. */
  readonly number: string | null;
  /** In the words of the tracker; null until it told one. */
  readonly state: string | null;
  readonly isDone: boolean;
  /** What is to be asked of the tracker, and is not yet. */
  readonly work: TicketWork | null;
  /** Counts this attempt. */
  readonly attempts: number;
  readonly problem: string | null;
  readonly madeBy: string;
  readonly madeAt: Date;
}

const columns = {
  id: 'tickets.id',
  appId: 'tickets.app_id',
  caseId: 'tickets.case_id',
  requestId: 'request_id',
  number: 'tickets.number',
  state: 'tickets.state',
  isDone: 'is_done',
  work: 'work',
  attempts: 'attempts',
  problem: 'problem',
  madeBy: 'made_by',
  madeAt: 'tickets.made_at',
} as const;

type Row = Omit<Ticket, 'requestId' | 'isDone'> & { readonly requestId: Buffer; readonly isDone: number };
const toTicket = ({ requestId, isDone, ...row }: Row): Ticket => ({ ...row, requestId: uuidText(requestId), isDone: isDone === 1 });

/** The tickets of a case and of those that were merged into it, the oldest first. */
export async function listTicketsOfCase(database: Database, caseId: number): Promise<Ticket[]> {
  const merged: number[] = await database('cases').where({ merged_into: caseId }).pluck('id');
  const rows = await database('tickets')
    .whereIn('case_id', [caseId, ...merged])
    .orderBy('id')
    .select<Row[]>(columns);
  return rows.map(toTicket);
}

/** A ticket with what is to be known of its case in a list. */
export interface TicketOfApp extends Ticket {
  readonly caseNumber: number;
  readonly caseState: CaseState;
  readonly what: string;
  readonly where: string;
}

/** The tickets of an app, those that are not done first, the newest of each before the others. */
export async function listTickets(database: Database, appId: number, limit: number): Promise<TicketOfApp[]> {
  const rows = await database('tickets')
    .join('cases as own', 'own.id', 'tickets.case_id')
    .join('cases', (join) => join.on('cases.id', '=', database.raw('COALESCE(own.merged_into, own.id)')))
    .where({ 'tickets.app_id': appId })
    .orderBy([{ column: 'is_done' }, { column: 'tickets.id', order: 'desc' }])
    .limit(limit)
    .select<(Row & Omit<TicketOfApp, keyof Ticket>)[]>(columns, {
      caseNumber: 'cases.number',
      caseState: 'cases.state',
      what: 'cases.what',
      where: 'cases.where_text',
    });
  return rows.map(({ caseNumber, caseState, what, where, ...row }) => ({ ...toTicket(row), caseNumber, caseState, what, where }));
}

export async function findTicket(database: Database, appId: number, id: number): Promise<Ticket | null> {
  const row: Row | undefined = await database('tickets').where({ 'tickets.app_id': appId, 'tickets.id': id }).first(columns);
  return row ? toTicket(row) : null;
}

/** The tickets of an app with a number: several cases may be tied to one. */
export const listTicketsByNumber = async (database: Database, appId: number, number: string): Promise<Ticket[]> =>
  (await database('tickets').where({ 'tickets.app_id': appId, 'tickets.number': number }).select<Row[]>(columns)).map(toTicket);

/** Keeps that a ticket is to be made of a case; null when one of it is being made already. */
export async function orderTicket(
  database: Database,
  about: { readonly appId: number; readonly caseId: number; readonly requestId: string; readonly madeBy: string },
): Promise<number | null> {
  return inTransaction(database, async (transaction) => {
    // Two people who ask at once ask for one ticket.
    await transaction('cases').where({ id: about.caseId }).forUpdate().first('id');
    if (await transaction('tickets').where({ case_id: about.caseId, work: 'make' }).first('id')) return null;
    const [id] = await transaction('tickets').insert({
      app_id: about.appId,
      case_id: about.caseId,
      request_id: uuidBytes(about.requestId),
      work: 'make',
      made_by: about.madeBy,
    });
    return id as number;
  });
}

/** Ties a case to a ticket that is there; false when it is tied already. */
export async function tieTicket(
  database: Database,
  about: { readonly appId: number; readonly caseId: number; readonly requestId: string; readonly number: string; readonly madeBy: string },
): Promise<boolean> {
  const [id] = await database('tickets')
    .insert({
      app_id: about.appId,
      case_id: about.caseId,
      request_id: uuidBytes(about.requestId),
      number: about.number,
      made_by: about.madeBy,
    })
    .onConflict(['case_id', 'number'])
    .ignore();
  return id !== 0;
}

/** Unties a case from a ticket, which stays what it is in the tracker. */
export const untieTicket = async (database: Database, appId: number, id: number): Promise<boolean> =>
  (await database('tickets').where({ app_id: appId, id }).delete()) > 0;

/** Has the tickets of a case follow its state, where the app says so; in the transaction that changes the state. */
export async function followCase(transaction: Database, caseId: number, state: CaseState): Promise<void> {
  if (state === 'muted') return;
  const isClosed = state === 'closed';
  const ids = [caseId, ...(await transaction('cases').where({ merged_into: caseId }).pluck('id'))];
  await transaction('tickets')
    .join('trackers', 'trackers.app_id', 'tickets.app_id')
    .whereIn('case_id', ids)
    .where({ ticket_follows_case: true, is_done: !isClosed })
    .whereNotNull('number')
    .update({ work: isClosed ? 'close' : 'open', attempts: 0, run_after: transaction.raw('UTC_TIMESTAMP(3)') });
  // What was not asked yet need not be taken back in the tracker.
  await transaction('tickets')
    .whereIn('case_id', ids)
    .where({ is_done: isClosed, work: isClosed ? 'open' : 'close' })
    .update({ work: null });
}

/** Whoever dies with a ticket leaves it to the next after this: longer than the slowest tracker is waited for. */
const leaseSeconds = 120;

async function take(
  database: Database,
  due: (query: Knex.QueryBuilder) => Knex.QueryBuilder,
  limit: number,
  leaseFor: number,
): Promise<Ticket[]> {
  return inTransaction(database, async (transaction) => {
    const rows = await due(transaction('tickets'))
      .whereRaw('run_after <= UTC_TIMESTAMP(3)')
      .orderBy('run_after')
      .limit(limit)
      .forUpdate()
      .skipLocked()
      .select<Row[]>(columns);
    const ids = rows.map((row) => row.id);
    await transaction('tickets')
      .whereIn('id', ids)
      .update({
        // To ask what became of a ticket is no attempt at anything, and goes on for as long as it is not done.
        attempts: transaction.raw('IF(work IS NULL, 0, attempts + 1)'),
        run_after: transaction.raw('UTC_TIMESTAMP(3) + INTERVAL ? SECOND', [leaseFor]),
      });
    return rows.map((row) => toTicket({ ...row, attempts: row.attempts + 1 }));
  });
}

/** Takes tickets of which something is to be asked; nobody else works at them for a while. */
export const takeTickets = (database: Database, limit: number): Promise<Ticket[]> =>
  take(database, (query) => query.whereNotNull('work'), limit, leaseSeconds);

/** Takes tickets whose state is to be asked for; each comes again after `everySeconds`, also when the tracker does not answer. */
export const takeUnasked = (database: Database, limit: number, everySeconds: number): Promise<Ticket[]> =>
  take(database, (query) => query.where({ is_done: false }).whereNull('work').whereNotNull('number'), limit, everySeconds);

/** Keeps that the tracker did what was asked; what was asked for meanwhile stays. */
export async function markWorked(
  database: Database,
  { id, work }: Pick<Ticket, 'id' | 'work'>,
  became: { readonly number?: string; readonly isDone: boolean },
): Promise<void> {
  await database('tickets')
    .where({ id })
    .update({ is_done: became.isDone, attempts: 0, problem: null, ...(became.number === undefined ? {} : { number: became.number }) });
  await database('tickets').where({ id, work }).update({ work: null });
}

/** Keeps why the tracker did not do it; it is tried again after `retryAfterSeconds`, or given up when that is null. */
export async function markUnworked(
  database: Database,
  { id, work }: Pick<Ticket, 'id' | 'work'>,
  { reason, retryAfterSeconds }: { readonly reason: string; readonly retryAfterSeconds: number | null },
): Promise<void> {
  const problem = reason.slice(0, 500);
  await database('tickets')
    .where({ id, work })
    .update(
      retryAfterSeconds === null
        ? { work: null, problem }
        : { problem, run_after: database.raw('UTC_TIMESTAMP(3) + INTERVAL ? SECOND', [Math.round(retryAfterSeconds)]) },
    );
}

/** Keeps what the tracker told of a ticket; gives whether it has just become done. */
export async function noteTicketState(
  transaction: Knex.Transaction,
  id: number,
  { state, isDone }: Pick<Ticket, 'isDone'> & { readonly state: string },
): Promise<boolean> {
  const before: { isDone: number } | undefined = await transaction('tickets').where({ id }).forUpdate().first({ isDone: 'is_done' });
  if (!before) return false;
  await transaction('tickets')
    .where({ id })
    .update({ state: state.slice(0, 100), is_done: isDone, problem: null });
  return isDone && before.isDone === 0;
}

/** Asks at once for what waits, or was given up: a ticket that has no number yet is to be made. */
export const retryTicket = (database: Database, { id, number, work }: Pick<Ticket, 'id' | 'number' | 'work'>): Promise<number> =>
  database('tickets')
    .where({ id })
    .update({ work: number === null ? 'make' : work, attempts: 0, run_after: database.raw('UTC_TIMESTAMP(3)') });
