import { attachmentLimits } from '@rough-ember/core/report/attachment';
import { insertAttachments, type StorableAttachment } from './attachments.ts';
import { type Database, inTransaction } from './database.ts';
import { queueForwardedSessions } from './forwards.ts';
import { type EndingReport, insertReports, type StorableReport } from './reports.ts';
import { insertTrailEvents, insertTrailsOfSessions, type StorableTrailEvent } from './session-trails.ts';
import { joinIntoSessions, type StorableSession } from './sessions.ts';

export interface StorableItems {
  readonly reports: readonly StorableReport[];
  /** Reports that are not kept, for what they tell of their sessions. */
  readonly sampledOut?: readonly EndingReport[];
  readonly sessions: readonly StorableSession[];
  readonly attachments: readonly StorableAttachment[];
  readonly trailEvents: readonly StorableTrailEvent[];
}

/** What was new; everything else was stored before, or is beyond a limit. */
export interface StoredItems {
  readonly reports: Set<string>;
  readonly attachments: Set<string>;
  readonly attachmentsBeyondLimit: Set<string>;
}

/** Stores the items of a request in one transaction; when this returns they survive a crash of anything. */
export async function storeItems(
  database: Database,
  { appId, items, receivedAt }: { appId: number; items: StorableItems; receivedAt: Date },
): Promise<StoredItems> {
  return inTransaction(database, async (transaction) => {
    const reports = await insertReports(transaction, { appId, reports: items.reports, receivedAt });
    const { stored, beyondLimit } = await insertAttachments(transaction, {
      appId,
      attachments: items.attachments,
      receivedAt,
      perReport: attachmentLimits.perReport,
    });
    await insertTrailEvents(transaction, { appId, events: items.trailEvents, receivedAt });
    const sessions = items.sessions.flatMap(({ known: { first, latest }, excluded }) => (excluded ? [] : [...new Set([first, latest])]));
    await queueForwardedSessions(transaction, { appId, items: sessions, now: receivedAt });
    await insertTrailsOfSessions(transaction, { appId, sessions: items.sessions, receivedAt });
    await joinIntoSessions(transaction, {
      appId,
      sessions: items.sessions,
      reports: [...items.reports, ...(items.sampledOut ?? [])],
      receivedAt,
    });
    return { reports, attachments: stored, attachmentsBeyondLimit: beyondLimit };
  });
}
