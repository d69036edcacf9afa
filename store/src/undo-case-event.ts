import type { CaseAction, CaseStatus } from '@rough-ember/core/cases/case-status';
import { lastChange, recordEvent } from './case-events.ts';
import { readStatus, writeStatus } from './case-status.ts';
import { type Database, inTransaction } from './database.ts';
import { type MergedPart, unmerge, unsplit } from './merge-cases.ts';

type LastChange = { readonly id: number; readonly before: CaseStatus } & (
  | { readonly kind: 'merge'; readonly detail: { readonly parts: readonly MergedPart[] } }
  | { readonly kind: 'split'; readonly detail: { readonly variants: readonly string[] } }
  | { readonly kind: CaseAction['action'] }
);

/**
 * Takes the last change of a case back: the standing before it comes again. False when there is none, or when it is not the
 * last one any more.
 */
export async function undoCaseEvent(
  database: Database,
  { caseId, eventId, actor }: { caseId: number; eventId: number; actor: string },
): Promise<boolean> {
  return inTransaction(database, async (transaction) => {
    if (!(await readStatus(transaction, caseId))) return false;
    const last: LastChange | undefined = await lastChange(transaction, caseId).first({
      id: 'id',
      kind: 'kind',
      detail: 'detail',
      before: 'before_status',
    });
    if (last?.id !== eventId) return false;
    await writeStatus(transaction, caseId, last.before);
    if (last.kind === 'merge') await unmerge(transaction, caseId, last.detail.parts);
    if (last.kind === 'split') await unsplit(transaction, caseId, last.detail);
    await transaction('case_events').where({ id: eventId }).update({ undone: true });
    await recordEvent(transaction, { case_id: caseId, actor, kind: 'undo', detail: { event: eventId }, before: null });
    return true;
  });
}
