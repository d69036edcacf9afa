import { createHash } from 'node:crypto';
import type { TrailEvent } from '@rough-ember/core/report/trail';
import type { Knex } from 'knex';
import type { Database } from './database.ts';
import { insertRows } from './insert-rows.ts';
import type { StorableSession } from './sessions.ts';
import { trailEventsForm } from './stored-forms.ts';
import { readStored } from './stored-json.ts';
import { uuidBytes, uuidText } from './uuid.ts';

/** How long is kept what sessions told by themselves. */
export const trailDays = 30;

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

/** No event has this hash: what a session told together takes the place of what it told so before, which was a part of it. */
const hashOfWhole = Buffer.alloc(16);

/** Keeps the trails that sessions told at their end. */
export async function insertTrailsOfSessions(
  transaction: Knex.Transaction,
  { appId, sessions, receivedAt }: { appId: number; sessions: readonly StorableSession[]; receivedAt: Date },
): Promise<void> {
  const rows = sessions.flatMap(({ known: { latest } }) => {
    const { id, at, trail } = latest;
    if (trail.length === 0) return [];
    const when = { at: new Date(at), received_at: receivedAt };
    return [{ app_id: appId, session_id: uuidBytes(id), event_hash: hashOfWhole, ...when, event: JSON.stringify(trail) }];
  });
  // MariaDB assigns from left to right: the time that decides comes last.
  const behind = 'ON DUPLICATE KEY UPDATE event = IF(VALUES(at) >= at, VALUES(event), event), at = GREATEST(at, VALUES(at))';
  rows.sort((a, b) => Buffer.compare(a.session_id, b.session_id));
  for (let place = 0; place < rows.length; place += 100)
    await insertRows(transaction, 'session_trails', rows.slice(place, place + 100), { behind });
}

const mostRows = 1_000;
const eventsOf = (text: string): readonly TrailEvent[] => {
  const told = readStored(trailEventsForm, text);
  return 'kind' in told ? [told] : told;
};

/** The latest events of a session that were told by itself, the oldest first. */
export async function listTrailEvents(database: Database, appId: number, sessionId: string): Promise<TrailEvent[]> {
  const told: string[] = await database('session_trails')
    .where({ app_id: appId, session_id: uuidBytes(sessionId) })
    .orderBy('at', 'desc')
    .limit(mostRows)
    .pluck('event');
  return told.reverse().flatMap(eventsOf);
}

/** The events that some sessions told by themselves, in no order; at most `mostRows` rows for a session on average. */
export async function listTrailsOfSessions(
  database: Database,
  appId: number,
  sessionIds: readonly string[],
): Promise<Map<string, TrailEvent[]>> {
  const rows: { session_id: Buffer; event: string }[] = await database('session_trails')
    .where({ app_id: appId })
    .whereIn('session_id', sessionIds.map(uuidBytes))
    .limit(mostRows * sessionIds.length)
    .select('session_id', 'event');
  const trails = new Map<string, TrailEvent[]>(sessionIds.map((id) => [id, []]));
  for (const { session_id, event } of rows) trails.get(uuidText(session_id))?.push(...eventsOf(event));
  return trails;
}

const sessionsAtOnce = 1_000;

/** Forgets what sessions told by the way, and what of them waits to be forwarded. */
export async function deleteTrailsOf(transaction: Knex.Transaction, appId: number, sessionIds: readonly Buffer[]): Promise<void> {
  for (let at = 0; at < sessionIds.length; at += sessionsAtOnce)
    for (const table of ['session_trails', 'forward_queue'])
      await transaction(table)
        .where({ app_id: appId })
        .whereIn('session_id', sessionIds.slice(at, at + sessionsAtOnce))
        .delete();
}

/** Forgets events that came before a time, at most `limit`; gives how many went. */
export async function pruneTrailEvents(database: Database, before: Date, limit: number): Promise<number> {
  return database('session_trails').where('received_at', '<', before).limit(limit).delete();
}
