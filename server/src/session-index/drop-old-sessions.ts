import { dayOf } from '@rough-ember/core/session-index/person-day';
import { listApps } from '@rough-ember/store/apps';
import { dropRawSessions } from '@rough-ember/store/session-feed';
import type { Services } from '../services.ts';

const droppedAtOnce = 5_000;

/** Forgets sessions that are older than an age, after their sums were kept: the figures outlive them. Gives how many went. */
export async function dropOldSessions(
  { database, sessions, settings }: Pick<Services, 'database' | 'sessions' | 'settings'>,
  now: Date,
): Promise<number> {
  const before = dayOf(now.getTime()) - settings.sessionDays;
  let dropped = 0;
  for (const { id } of await listApps(database)) {
    // Whoever has never been asked has kept nothing yet.
    await sessions.ask('lookNow', id);
    await sessions.ask('keepAll', 0);
    for (let last = droppedAtOnce; last === droppedAtOnce; dropped += last)
      last = await dropRawSessions(database, id, before, droppedAtOnce);
  }
  return dropped;
}
