import type { ReportInput } from '@rough-ember/core/report/report';
import type { SessionItemInput } from '@rough-ember/core/report/session';
import { drawActivity } from './demo-activity.ts';
import { type DemoApp, demoPeople, drawReports, releaseOf } from './demo-app.ts';
import { about, sessionOf } from './demo-sessions.ts';
import { Random } from './random.ts';

/** About so many sessions go well for each that does not. */
const wellForEachTrouble = 24;

/** What happens to the people of an app at a moment: sessions that end then, and now and then a report. */
export interface LiveItems {
  readonly sessions: readonly SessionItemInput[];
  readonly reports: readonly ReportInput[];
}

/** Lets the people of the demo go on using an app: gives what each moment brings. */
export function startLife(demo: DemoApp, seed: number): (now: Date) => LiveItems {
  const people = demoPeople(new Random(demo.seed), demo);
  const random = new Random(seed);
  return (now) => {
    if (random.next() < 1 / (wellForEachTrouble + 1)) {
      const reports = drawReports(demo, { random, people, now, count: 1, moment: () => now.getTime() });
      return { reports, sessions: reports.flatMap((report) => sessionOf(report, demo.screens)) };
    }
    const person = random.pick(people);
    const release = releaseOf(random, demo.releases, { at: now.getTime(), now, slownessDays: person.slownessDays });
    if (!release) return { reports: [], sessions: [] };
    const durationMs = Math.round(8_000 + 900_000 * random.next() ** 3);
    const id = random.uuid();
    const startedAt = now.getTime() - durationMs;
    const session: SessionItemInput = {
      ...about(person, demo.flag.name),
      id,
      sequence: 1,
      at: now.toISOString(),
      startedAt: new Date(startedAt).toISOString(),
      state: 'ended',
      durationMs,
      version: release.version,
      build: release.build,
      ...drawActivity(random, demo, { id, release, person, startedAt, durationMs }),
    };
    return { reports: [], sessions: [session] };
  };
}
