import { setTimeout as pause } from 'node:timers/promises';
import { demoOfSize, larkfieldApps } from '@rough-ember/demo/larkfield';
import { startLife } from '@rough-ember/demo/live';
import { sendDemoReports, sendDemoSessions } from '@rough-ember/demo/send-demo';
import type { Services } from '@rough-ember/server/services';
import { findApp } from '@rough-ember/store/apps';
import { listIntakeKeys } from '@rough-ember/store/credentials';

/** On average there are so many milliseconds from one session of the family to the next. */
const usualPauseMs = 8_000;

/**
 * Lets the people of the demo go on using its apps, a session now and then, until it is told to stop. What cannot be sent is
 * left out: it is only a demo.
 */
export function liveDemo({ database, settings, log }: Pick<Services, 'database' | 'settings' | 'log'>, address: string): () => void {
  const ending = new AbortController();
  const lives = larkfieldApps.map((usual, at) => ({
    usual,
    live: startLife(demoOfSize(usual, settings.demoSessions).demo, (Date.now() + at) >>> 0),
  }));
  // Apps are used as often as their reports say.
  const turns = lives.flatMap((one) => new Array<typeof one>(Math.max(1, Math.round(one.usual.reports / 50))).fill(one));
  const run = async () => {
    for (;;) {
      await pause(usualPauseMs * (0.5 + Math.random()), undefined, { signal: ending.signal });
      const { usual, live } = turns[Math.floor(Math.random() * turns.length)] as (typeof turns)[number];
      const app = await findApp(database, usual.app.slug);
      const key = app && (await listIntakeKeys(database, app.id)).find((one) => one.revokedAt === null);
      if (!key) continue;
      const { sessions, reports } = live(new Date());
      const target = { address, intakeKey: key.keyText, uploadToken: '' };
      await sendDemoSessions(sessions, target);
      await sendDemoReports(reports, target);
    }
  };
  const begin = (): void =>
    void run().catch((error: Error) => {
      if (ending.signal.aborted) return;
      log.debug({ err: error }, 'a moment of the demo was left out');
      begin();
    });
  begin();
  return () => ending.abort();
}
