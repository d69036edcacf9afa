import { setTimeout as pause } from 'node:timers/promises';
import { databaseFault } from '@rough-ember/store/database-errors';
import type { Logger } from 'pino';

/** Work that goes on beside everything else. Any number of processes may do it. */
export interface RepeatedWork {
  /** Does no more, once what is at hand is done. */
  stop(): Promise<void>;
}

interface Repeated {
  readonly everyMs: number;
  /** Says whether there may be more to do at once. */
  work(): Promise<boolean>;
}

const restAfterFaultMs = 3_000;

/** Does each work as long as there is some, then looks again after a while; what fails is logged with these words and tried again. */
export function repeatWork(log: Logger, failed: string, works: readonly Repeated[]): RepeatedWork {
  const stopping = new AbortController();
  const { signal } = stopping;
  const repeat = async ({ everyMs, work }: Repeated) => {
    while (!signal.aborted) {
      let isMore = false;
      let rest = everyMs;
      try {
        isMore = await work();
      } catch (error) {
        rest = Math.max(everyMs, restAfterFaultMs);
        if (databaseFault(error) === null) log.warn({ err: error }, failed);
      }
      if (!isMore) await pause(rest, undefined, { signal, ref: false }).catch(() => {});
    }
  };
  const loops = works.map(repeat);
  return {
    stop: async () => {
      stopping.abort();
      await Promise.all(loops);
    },
  };
}
