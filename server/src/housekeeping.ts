import type { Database } from '@rough-ember/store/database';
import { pruneIntakeLog } from '@rough-ember/store/intake-log';
import type { Logger } from 'pino';
import { sweepSymbols } from './symbols/sweep-symbols.ts';
import type { SymbolStore } from './symbols/symbol-store.ts';

/** How long requests stay in the intake log. */
export const intakeLogDays = 14;

const everyMs = 3_600_000;
const prunedAtOnce = 20_000;

/** Drops what is kept for a while only; several processes may do it at once. */
export async function keepHouse(database: Database, now: Date): Promise<number> {
  const before = new Date(now.getTime() - intakeLogDays * 86_400_000);
  let dropped = 0;
  for (let last = prunedAtOnce; last >= prunedAtOnce; dropped += last) last = await pruneIntakeLog(database, before, prunedAtOnce);
  return dropped;
}

/** Keeps house now and every hour, until it is stopped. */
export function startHousekeeping(database: Database, symbols: SymbolStore, log: Logger): { stop(): Promise<void> } {
  let working: Promise<void> = Promise.resolve();
  const work = () => {
    working = Promise.all([keepHouse(database, new Date()), sweepSymbols(database, symbols, new Date())]).then(
      ([dropped, freed]) => {
        if (dropped > 0) log.info({ dropped }, 'old requests left the intake log');
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
