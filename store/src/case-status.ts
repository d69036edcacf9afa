import {
  type ArrivedReport,
  act,
  afterReport,
  type CaseAction,
  type CaseSize,
  type CaseStatus,
  type Mute,
} from '@rough-ember/core/cases/case-status';
import type { Knex } from 'knex';
import { recordEvent } from './case-events.ts';
import { type Database, inTransaction } from './database.ts';
import { followCase } from './tickets.ts';

const columns = { state: 'state', closedIn: 'closed_in', mute: 'mute', assignee: 'assignee' } as const;

/** The status of a case, locked until the transaction ends. */
export const readStatus = (transaction: Database, caseId: number): Promise<CaseStatus | undefined> =>
  transaction('cases').where({ id: caseId }).forUpdate().first(columns);

/** Puts a status in place of the one before; tickets follow a case that is closed or opened by it, where the app says so. */
export async function changeStatus(transaction: Database, caseId: number, before: CaseStatus, after: CaseStatus): Promise<void> {
  const { state, closedIn, mute, assignee } = after;
  await transaction('cases')
    .where({ id: caseId })
    .update({ state, closed_in: closedIn, mute: mute && JSON.stringify(mute), assignee });
  if ((before.state === 'closed') !== (state === 'closed')) await followCase(transaction, caseId, state);
}

const unasked: CaseSize = { reports: 0, people: 0 };

/** Counting a case costs a look at all its reports, so only a mute that waits for more of them has it done. */
const countsReports = (mute: Pick<Mute, 'until'> | null): boolean => mute?.until === 'reports' || mute?.until === 'people';

async function sizeOf(transaction: Database, caseId: number): Promise<CaseSize> {
  const [row] = await transaction('reports')
    .where({ case_id: caseId })
    .select(transaction.raw('COUNT(*) AS reports, COUNT(DISTINCT person_key) AS people'));
  return { reports: Number(row.reports), people: Number(row.people) };
}

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
      const before = await readStatus(transaction, caseId);
      if (!before) return 0;
      const isCounted = action.action === 'mute' && countsReports(action.mute);
      const after = act(before, action, isCounted ? await sizeOf(transaction, caseId) : unasked);
      if (after === before) return 0;
      await changeStatus(transaction, caseId, before, after);
      const { action: kind, ...detail } = action;
      await recordEvent(transaction, { case_id: caseId, actor, kind, detail, before });
      return 1;
    });
  return changed;
}

/** Which of some cases a report that comes may open again. */
export const casesThatWait = (transaction: Knex.Transaction, caseIds: readonly number[]): Promise<number[]> =>
  transaction('cases')
    .whereIn('id', [...new Set(caseIds)])
    .whereIn('state', ['closed', 'muted'])
    .pluck('id');

/** What a report that came for the first time makes of the state of its case, which was closed or muted; gives whether that changed. */
export async function noteArrival(
  transaction: Knex.Transaction,
  caseId: number,
  { version, receivedAt, reportId }: Omit<ArrivedReport, 'size'> & { reportId: string },
): Promise<boolean> {
  const before = await readStatus(transaction, caseId);
  if (!before) return false;
  const size = countsReports(before.mute) ? await sizeOf(transaction, caseId) : unasked;
  const after = afterReport(before, { version, receivedAt, size });
  if (after === before) return false;
  await changeStatus(transaction, caseId, before, after);
  const kind = after.state === 'reopened' ? 'reopened' : 'unmuted';
  await recordEvent(transaction, { case_id: caseId, actor: '', kind, detail: { version, report: reportId }, before });
  return true;
}
