import { type RepeatedWork, repeatWork } from '../repeat-work.ts';
import type { Services } from '../services.ts';
import { dispatchFacts } from './dispatch-facts.ts';
import { lookAtRules } from './look-at-rules.ts';
import { sendDueMessages, writeDueMessage } from './outbox.ts';

const factsEveryMs = 500;
const looksEveryMs = 2_000;

/** Facts become alerts, alerts messages, and messages leave; rules that are to be looked at are. */
export function startAlertRunner(services: Services): RepeatedWork {
  return repeatWork(services.log, 'what is to be told could not be worked at', [
    { everyMs: factsEveryMs, work: async () => (await dispatchFacts(services)) > 0 },
    // What a message tells may take a while to find out; facts do not wait for it.
    { everyMs: factsEveryMs, work: () => writeDueMessage(services) },
    { everyMs: factsEveryMs, work: async () => (await sendDueMessages(services)) > 0 },
    { everyMs: looksEveryMs, work: async () => (await lookAtRules(services, new Date())) > 0 },
  ]);
}
