import type { CaseAction, CaseStatus } from '@rough-ember/core/cases/case-status';
import type { Knex } from 'knex';
import { type Database, inTransaction } from './database.ts';
import { caseStatusForm, versionOfEventForm } from './stored-forms.ts';
import { readStored, writeStored } from './stored-json.ts';
import { tellPeople } from './told.ts';

/** Something that happened to a case: what a person did or wrote, or a report that changed its state. */
export interface CaseEvent {
  readonly id: number;
  readonly at: Date;
  /** Mail address or token; empty when a report did it. */
  readonly actor: string;
  readonly kind: CaseAction['action'] | 'note' | 'reopened' | 'unmuted' | 'undo' | 'merge' | 'split' | 'taken-out';
  readonly detail: Readonly<Record<string, unknown>>;
  readonly undone: boolean;
  /** A change that can still be taken back. */
  readonly mayUndo: boolean;
}

/**
 * Keeps what happened in the history of a case, and tells whom it concerns, in one transaction; with the status before it, it can be taken
 * back.
 */
export async function recordEvent(
  transaction: Database,
  event: { case_id: number; actor: string; kind: string; detail: object; before: CaseStatus | null },
): Promise<void> {
  const { before, detail, ...row } = event;
  const [eventId] = await transaction('case_events').insert({
    ...row,
    detail: JSON.stringify(detail),
    before_status: before && writeStored(caseStatusForm, before),
  });
  const { case_id: caseId, actor, kind } = row;
  await tellPeople(transaction, { eventId: eventId as number, caseId, actor, kind, detail: { ...detail } });
}

/** Keeps a note in the history of a case. */
export async function noteOnCase(
  database: Database,
  { caseId, actor, text }: { caseId: number; actor: string; text: string },
): Promise<void> {
  await inTransaction(database, (transaction) =>
    recordEvent(transaction, { case_id: caseId, actor, kind: 'note', detail: { text }, before: null }),
  );
}

/** Changes of a case that can be taken back, the last one first. */
export const lastChange = (database: Database, caseId: number): Knex.QueryBuilder =>
  database('case_events').where({ case_id: caseId, undone: false }).whereNotNull('before_status').orderBy('id', 'desc');

/** The history of a case and of those that were merged into it, the newest first. */
export async function listCaseEvents(database: Database, caseId: number): Promise<CaseEvent[]> {
  const merged: number[] = await database('cases').where({ merged_into: caseId }).pluck('id');
  const [rows, last] = await Promise.all([
    database('case_events')
      .whereIn('case_id', [caseId, ...merged])
      .orderBy('id', 'desc')
      .limit(shownEvents)
      .select<(Omit<CaseEvent, 'undone' | 'mayUndo'> & { undone: number })[]>('id', 'at', 'actor', 'kind', 'detail', 'undone'),
    lastChange(database, caseId).first('id'),
  ]);
  return rows.map((row) => ({ ...row, undone: row.undone === 1, mayUndo: row.id === last?.id }));
}

const shownEvents = 200;

/** The cases of an app that a report opened again after they were closed, with its version; the newest first. */
export async function listReturns(database: Database, appId: number): Promise<{ readonly caseId: number; readonly version: string }[]> {
  const rows: { caseId: number; detail: unknown }[] = await database('case_events')
    .join('cases', 'cases.id', 'case_events.case_id')
    .where({ 'cases.app_id': appId, 'case_events.kind': 'reopened', undone: false })
    .orderBy('case_events.id', 'desc')
    .limit(shownEvents)
    .select({ caseId: 'case_id', detail: 'detail' });
  return rows.map(({ caseId, detail }) => ({ caseId, version: readStored(versionOfEventForm, detail).version }));
}

/** A case that was closed, or that a report opened again. */
export interface CaseTurn {
  readonly caseId: number;
  readonly at: Date;
  readonly kind: 'close' | 'reopened';
  readonly version: string;
}

/** The cases of an app that were closed or came back since a moment, the newest first. */
export async function listTurns(database: Database, appId: number, since: Date): Promise<CaseTurn[]> {
  const rows: (Omit<CaseTurn, 'version'> & { detail: unknown })[] = await database('case_events')
    .join('cases', 'cases.id', 'case_events.case_id')
    .where({ 'cases.app_id': appId, undone: false })
    .where('case_events.at', '>=', since)
    .whereIn('case_events.kind', ['close', 'reopened'])
    .orderBy('case_events.id', 'desc')
    .limit(shownEvents)
    .select({ caseId: 'case_id', at: 'at', kind: 'case_events.kind', detail: 'detail' });
  return rows.map(({ detail, ...row }) => ({ ...row, version: readStored(versionOfEventForm, detail).version }));
}
