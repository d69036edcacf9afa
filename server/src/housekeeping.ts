import { dayMs, hourMs } from '@rough-ember/core/durations';
import { pruneAlerts } from '@rough-ember/store/alerts';
import { listApps } from '@rough-ember/store/apps';
import { pruneChanges, sequenceChanges } from '@rough-ember/store/change-log';
import type { Database } from '@rough-ember/store/database';
import { queueForgotten } from '@rough-ember/store/failed-reports';
import { pruneForwardQueue } from '@rough-ember/store/forwards';
import { prunePreviews } from '@rough-ember/store/grouping-changes';
import { pruneIntakeLog } from '@rough-ember/store/intake-log';
import { queueOnce } from '@rough-ember/store/jobs';
import { followMergedCases } from '@rough-ember/store/merge-cases';
import { queueOvertakenNeeds } from '@rough-ember/store/overtaken-needs';
import { pruneTrailEvents, trailDays } from '@rough-ember/store/session-trails';
import type { Services } from './services.ts';
import { dropOldSessions } from './session-index/drop-old-sessions.ts';
import { sweepSymbols } from './symbols/sweep-symbols.ts';

/** How long requests of no app stay in the intake log. */
export const intakeLogDays = 14;

/** How long what rules told, and the messages of it, are kept. */
export const alertDays = 180;

/** How long a receiver may be away without missing anything. */
export const forwardDays = 7;

const everyMs = hourMs;
const prunedAtOnce = 20_000;

/** Drops what is kept for a while only; several processes may do it at once. */
export async function keepHouse(database: Database, now: Date): Promise<number> {
  const before = new Date(now.getTime() - intakeLogDays * dayMs);
  let dropped = 0;
  for (let last = prunedAtOnce; last >= prunedAtOnce; dropped += last) last = await pruneIntakeLog(database, before, prunedAtOnce);
  // Where nobody looks at figures, nobody has put the changes in order.
  await sequenceChanges(database);
  await pruneChanges(database);
  const toldBefore = new Date(now.getTime() - trailDays * dayMs);
  for (let last = prunedAtOnce; last >= prunedAtOnce; ) last = await pruneTrailEvents(database, toldBefore, prunedAtOnce);
  const forwardedBefore = new Date(now.getTime() - forwardDays * dayMs);
  for (let last = prunedAtOnce; last >= prunedAtOnce; ) last = await pruneForwardQueue(database, forwardedBefore, prunedAtOnce);
  await prunePreviews(database);
  const alertsBefore = new Date(now.getTime() - alertDays * dayMs);
  for (let last = prunedAtOnce; last >= prunedAtOnce; ) last = await pruneAlerts(database, alertsBefore, prunedAtOnce);
  for (const { id } of await listApps(database)) await queueOnce(database, { kind: 'apply-retention', appId: id, priority: 'again' }, id);
  return dropped;
}

type HouseServices = Pick<Services, 'database' | 'symbols' | 'sessions' | 'settings' | 'log'>;

/** Keeps house now and every hour, until it is stopped. */
export function startHousekeeping({ database, symbols, sessions, settings, log }: HouseServices): { stop(): Promise<void> } {
  let working: Promise<void> = Promise.resolve();
  const work = () => {
    working = Promise.all([
      keepHouse(database, new Date()),
      sweepSymbols(database, symbols, new Date()),
      dropOldSessions({ database, sessions, settings }, new Date()),
      queueForgotten(database),
      queueOvertakenNeeds(database),
      followMergedCases(database),
    ]).then(
      ([dropped, freed, forgotten, found, overtaken, followed]) => {
        if (followed > 0) log.warn({ followed }, 'reports were placed in a case while it was merged, and went along');
        if (overtaken > 0) log.warn({ overtaken }, 'reports were saved while their symbol file came, and are read again');
        if (found > 0) log.warn({ found }, 'something waited without a job and has one now');
        if (dropped > 0) log.info({ dropped }, 'old requests left the intake log');
        if (forgotten > 0) log.info({ forgotten }, 'old sessions were forgotten, their sums stay');
        if (freed > 0) log.info({ freed }, 'symbol files that nothing refers to left the disk');
      },
      (error: unknown) => log.warn({ err: error }, 'what is not needed any more could not be dropped'),
    );
  };
  work();
  const timer = setInterval(work, everyMs);
  timer.unref();
  return {
    stop: async () => {
      clearInterval(timer);
      await working;
    },
  };
}
