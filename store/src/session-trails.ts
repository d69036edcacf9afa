import { createHash } from 'node:crypto';
import type { TrailEvent } from '@rough-ember/core/report/trail';
import type { Knex } from 'knex';
import type { Database } from './database.ts';
import { insertRows } from './insert-rows.ts';
import { trailEventForm } from './stored-forms.ts';
import { readStored } from './stored-json.ts';
import { uuidBytes } from './uuid.ts';

/** Something that happened in a session, told by itself and not with a report. */
export interface StorableTrailEvent {
  readonly sessionId: string;
  /** ISO time. */
  readonly at: string;
  /** The event, JSON. */
  readonly body: string;
}

/** Keeps events of sessions; what was told before changes nothing. */
export async function insertTrailEvents(
  transaction: Knex.Transaction,
  { appId, events, receivedAt }: { appId: number; events: readonly StorableTrailEvent[]; receivedAt: Date },
): Promise<void> {
  const rows = events.map(({ sessionId, at, body }) => ({
    app_id: appId,
    session_id: uuidBytes(sessionId),
    event_hash: createHash('sha256').update(body).digest().subarray(0, 16),
    at: new Date(at),
    received_at: receivedAt,
    event: body,
  }));
  await insertRows(transaction, 'session_trails', rows, { ignoreKnown: true });
}

const mostEvents = 1_000;

/** The latest events of a session that were told by themselves, the oldest first. */
export async function listTrailEvents(database: Database, appId: number, sessionId: string): Promise<TrailEvent[]> {
  const bodies: string[] = await database('session_trails')
    .where({ app_id: appId, session_id: uuidBytes(sessionId) })
    .orderBy('at', 'desc')
    .limit(mostEvents)
    .pluck('event');
  return bodies.reverse().map((body) => readStored(trailEventForm, body));
}

const sessionsAtOnce = 1_000;

/** Forgets what sessions told by the way. */
export async function deleteTrailsOf(transaction: Knex.Transaction, appId: number, sessionIds: readonly Buffer[]): Promise<void> {
  for (let at = 0; at < sessionIds.length; at += sessionsAtOnce)
    await transaction('session_trails')
      .where({ app_id: appId })
      .whereIn('session_id', sessionIds.slice(at, at + sessionsAtOnce))
      .delete();
}

/** Forgets events that came before a time, at most `limit`; gives how many went. */
export async function pruneTrailEvents(database: Database, before: Date, limit: number): Promise<number> {
  return database('session_trails').where('received_at', '<', before).limit(limit).delete();
}
