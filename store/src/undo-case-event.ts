import { type CaseEvent, lastChange, recordEvent } from './case-events.ts';
import { changeStatus, readStatus } from './case-status.ts';
import { type Database, inTransaction } from './database.ts';
import { unmerge, unsplit } from './merge-cases.ts';
import { caseStatusForm, mergedPartsForm, splitVariantsForm } from './stored-forms.ts';
import { readStored } from './stored-json.ts';

/**
 * Takes the last change of a case back: the status before it comes again. False when there is none, or when it is not the
 * last one any more.
 */
export async function undoCaseEvent(
  database: Database,
  { caseId, eventId, actor }: { caseId: number; eventId: number; actor: string },
): Promise<boolean> {
  return inTransaction(database, async (transaction) => {
    const now = await readStatus(transaction, caseId);
    if (!now) return false;
    const last: { id: number; kind: CaseEvent['kind']; detail: unknown; before: unknown } | undefined = await lastChange(
      transaction,
      caseId,
    ).first({
      id: 'id',
      kind: 'kind',
      detail: 'detail',
      before: 'before_status',
    });
    if (last?.id !== eventId) return false;
    await changeStatus(transaction, caseId, now, readStored(caseStatusForm, last.before));
    if (last.kind === 'merge') await unmerge(transaction, caseId, readStored(mergedPartsForm, last.detail).parts);
    if (last.kind === 'split') await unsplit(transaction, caseId, readStored(splitVariantsForm, last.detail));
    await transaction('case_events').where({ id: eventId }).update({ undone: true });
    await recordEvent(transaction, { case_id: caseId, actor, kind: 'undo', detail: { event: eventId }, before: null });
    return true;
  });
}
