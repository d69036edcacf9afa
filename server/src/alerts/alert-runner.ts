import { setTimeout as pause } from 'node:timers/promises';
import { databaseFault } from '@rough-ember/store/database-errors';
import type { Services } from '../services.ts';
import { dispatchFacts } from './dispatch-facts.ts';
import { lookAtRules } from './look-at-rules.ts';
import { sendDueMessages, writeDueMessage } from './outbox.ts';

/** Works at what is to be told, beside everything else. Any number of processes may. */
export interface AlertRunner {
  /** Does no more, once what is at hand is done. */
  stop(): Promise<void>;
}

const factsEveryMs = 500;
const looksEveryMs = 2_000;
const restAfterFaultMs = 3_000;

/** Facts become alerts, alerts messages, and messages leave; rules that are to be looked at are. */
export function startAlertRunner(services: Services): AlertRunner {
  const stopping = new AbortController();
  const { signal } = stopping;

  /** Works as long as there is work, then looks again after a while. */
  const repeat = async (everyMs: number, work: () => Promise<boolean>) => {
    while (!signal.aborted) {
      let isMore = false;
      let rest = everyMs;
      try {
        isMore = await work();
      } catch (error) {
        rest = restAfterFaultMs;
        if (databaseFault(error) === null) services.log.warn({ err: error }, 'what is to be told could not be worked at');
      }
      if (!isMore) await pause(rest, undefined, { signal, ref: false }).catch(() => {});
    }
  };

  const loops = [
    repeat(factsEveryMs, async () => (await dispatchFacts(services)) > 0),
    // What a message tells may take a while to find out; facts do not wait for it.
    repeat(factsEveryMs, () => writeDueMessage(services)),
    repeat(factsEveryMs, async () => (await sendDueMessages(services)) > 0),
    repeat(looksEveryMs, async () => (await lookAtRules(services, new Date())) > 0),
  ];
  return {
    stop: async () => {
      stopping.abort();
      await Promise.all(loops);
    },
  };
}
