import {
  type ArrivedReport,
  act,
  afterReport,
  type CaseAction,
  type CaseSize,
  type CaseStanding,
  type Mute,
} from '@rough-ember/core/cases/case-standing';
import type { Knex } from 'knex';
import { type Database, inTransaction } from './database.ts';

/** Something that happened to a case: what a person did or wrote, or a report that changed its state. */
export interface CaseEvent {
  readonly id: number;
  readonly at: Date;
  /** Mail address or token; empty when a report did it. */
  readonly actor: string;
  readonly kind: CaseAction['action'] | 'note' | 'reopened' | 'unmuted' | 'undo';
  readonly detail: Readonly<Record<string, unknown>>;
  readonly undone: boolean;
  /** A change that can still be taken back. */
  readonly mayUndo: boolean;
}

const columns = { state: 'state', closedIn: 'closed_in', mute: 'mute', assignee: 'assignee' } as const;

const readStanding = (transaction: Database, caseId: number): Promise<CaseStanding | undefined> =>
  transaction('cases').where({ id: caseId }).forUpdate().first(columns);

const writeStanding = (transaction: Database, caseId: number, { state, closedIn, mute, assignee }: CaseStanding) =>
  transaction('cases')
    .where({ id: caseId })
    .update({ state, closed_in: closedIn, mute: mute && JSON.stringify(mute), assignee });

const unasked: CaseSize = { reports: 0, people: 0 };

/** Counting a case costs a look at all its reports, so only a mute that waits for more of them has it done. */
const countsReports = (mute: Pick<Mute, 'until'> | null): boolean => mute?.until === 'reports' || mute?.until === 'people';

async function sizeOf(transaction: Database, caseId: number): Promise<CaseSize> {
  const [row] = await transaction('reports')
    .where({ case_id: caseId })
    .select(transaction.raw('COUNT(*) AS reports, COUNT(DISTINCT person_key) AS people'));
  return { reports: Number(row.reports), people: Number(row.people) };
}

const record = (
  transaction: Database,
  event: { case_id: number; actor: string; kind: string; detail: object; before: CaseStanding | null },
) => {
  const { before, detail, ...row } = event;
  return transaction('case_events').insert({
    ...row,
    detail: JSON.stringify(detail),
    before_standing: before && JSON.stringify(before),
  });
};

/**
 * Does the same to several cases, each under a lock, so that two people who act at once do so one after the other. Gives the
 * numbers of the cases that it changed.
 */
export async function actOnCases(
  database: Database,
  { caseIds, actor, action }: { caseIds: readonly number[]; actor: string; action: CaseAction },
): Promise<number> {
  let changed = 0;
  // One transaction for each: a long list holds no lock for long, and what is done stays done.
  for (const caseId of [...caseIds].sort((a, b) => a - b))
    changed += await inTransaction(database, async (transaction) => {
      const before = await readStanding(transaction, caseId);
      if (!before) return 0;
      const isCounted = action.action === 'mute' && countsReports(action.mute);
      const after = act(before, action, isCounted ? await sizeOf(transaction, caseId) : unasked);
      if (after === before) return 0;
      await writeStanding(transaction, caseId, after);
      const { action: kind, ...detail } = action;
      await record(transaction, { case_id: caseId, actor, kind, detail, before });
      return 1;
    });
  return changed;
}

/** Keeps a note in the history of a case. */
export async function noteOnCase(
  database: Database,
  { caseId, actor, text }: { caseId: number; actor: string; text: string },
): Promise<void> {
  await record(database, { case_id: caseId, actor, kind: 'note', detail: { text }, before: null });
}

/**
 * Takes the last change of a case back: the standing before it comes again. False when there is none, or when it is not the
 * last one any more.
 */
export async function undoCaseEvent(
  database: Database,
  { caseId, eventId, actor }: { caseId: number; eventId: number; actor: string },
): Promise<boolean> {
  return inTransaction(database, async (transaction) => {
    if (!(await readStanding(transaction, caseId))) return false;
    const last: { id: number; before: CaseStanding } | undefined = await lastChange(transaction, caseId).first({
      id: 'id',
      before: 'before_standing',
    });
    if (last?.id !== eventId) return false;
    await writeStanding(transaction, caseId, last.before);
    await transaction('case_events').where({ id: eventId }).update({ undone: true });
    await record(transaction, { case_id: caseId, actor, kind: 'undo', detail: { event: eventId }, before: null });
    return true;
  });
}

const lastChange = (database: Database, caseId: number): Knex.QueryBuilder =>
  database('case_events').where({ case_id: caseId, undone: false }).whereNotNull('before_standing').orderBy('id', 'desc');

/** The history of a case, the newest first. */
export async function listCaseEvents(database: Database, caseId: number): Promise<CaseEvent[]> {
  const [rows, last] = await Promise.all([
    database('case_events')
      .where({ case_id: caseId })
      .orderBy('id', 'desc')
      .limit(shownEvents)
      .select<(Omit<CaseEvent, 'undone' | 'mayUndo'> & { undone: number })[]>('id', 'at', 'actor', 'kind', 'detail', 'undone'),
    lastChange(database, caseId).first('id'),
  ]);
  return rows.map((row) => ({ ...row, undone: row.undone === 1, mayUndo: row.id === last?.id }));
}

const shownEvents = 200;

/** What a report that came for the first time makes of the state of its case. */
export async function noteArrival(
  transaction: Knex.Transaction,
  caseId: number,
  { version, receivedAt, reportId }: Omit<ArrivedReport, 'size'> & { reportId: string },
): Promise<void> {
  const unlocked = await transaction('cases').where({ id: caseId }).first('state');
  if (unlocked?.state !== 'closed' && unlocked?.state !== 'muted') return;
  const before = await readStanding(transaction, caseId);
  if (!before) return;
  const size = countsReports(before.mute) ? await sizeOf(transaction, caseId) : unasked;
  const after = afterReport(before, { version, receivedAt, size });
  if (after === before) return;
  await writeStanding(transaction, caseId, after);
  const kind = after.state === 'reopened' ? 'reopened' : 'unmuted';
  await record(transaction, { case_id: caseId, actor: '', kind, detail: { version, report: reportId }, before });
}
