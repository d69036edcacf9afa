import type { ReportInput } from '@rough-ember/core/report/report';
import type { SessionItemInput, SessionState } from '@rough-ember/core/report/session';
import { activityOfTrail, drawActivity, screenOf } from './demo-activity.ts';
import { type DemoApp, type DemoPerson, demoPeople, momentOfUse, releaseOf } from './demo-app.ts';
import { Random } from './random.ts';

/** How a session stands after a report; a crash is told by the report alone. */
const stateAfterReport = { crash: 'open', hang: 'hung', kill: 'killed', error: 'ended' } as const satisfies Record<string, SessionState>;

/** How soon the app goes wrong where it does at its start. */
const startMs = 1_800;

/** More people have the app than those to whom something happened. */
const peopleForEachOther = 8;

/** The sessions of an app: one for each report, and as many that went well; oldest first, the same for the same `now`. */
export function demoSessions(demo: DemoApp, now: Date, reports: readonly ReportInput[], count: number): SessionItemInput[] {
  const random = new Random(demo.seed + 1);
  const walks = new Random(demo.seed + 2);
  const sessions = reports.flatMap((report) => sessionOf(report, demo.screens));
  const people = demoPeople(random, { devices: demo.devices, installations: demo.installations * peopleForEachOther });
  const draw = weightedDraw(people, random);
  while (sessions.length < count) {
    const person = draw();
    const at = momentOfUse(random, now);
    const release = releaseOf(random, demo.releases, { at, now, slownessDays: person.slownessDays });
    const id = random.uuid();
    const durationMs = Math.round(8_000 + 900_000 * random.next() ** 3);
    if (!release || at + durationMs > now.getTime()) continue;
    sessions.push({
      ...about(person, demo.flag.name),
      id,
      sequence: 1,
      at: new Date(at + durationMs).toISOString(),
      startedAt: new Date(at).toISOString(),
      state: 'ended',
      durationMs,
      version: release.version,
      build: release.build,
      ...drawActivity(walks, demo, { id, release, person, startedAt: at, durationMs }),
    });
  }
  return sessions.sort((a, b) => (a.startedAt < b.startedAt ? -1 : 1));
}

/** What a session tells of somebody. */
export const about = ({ installationId, personId, device, os, home, hasFlag }: DemoPerson, flag: string) => ({
  installationId,
  personId,
  device,
  os,
  country: home.country,
  carrier: home.carrier,
  flags: { [flag]: hasFlag ? 'on' : 'off' },
});

/** The session a report belongs to: it began when the app came to the foreground. */
export function sessionOf(report: ReportInput, screens: DemoApp['screens']): SessionItemInput[] {
  const { sessionId, occurredAt, kind, trail } = report;
  const isAtStart = screens[screenOf(report) ?? '']?.atStart === true;
  const startedAt = isAtStart ? new Date(Date.parse(occurredAt) - startMs).toISOString() : trail?.[0]?.at;
  if (!sessionId || !startedAt) return [];
  const { version, build, os, device, country, carrier, installationId, personId, flags } = report;
  const durationMs = Math.round(Date.parse(occurredAt) - Date.parse(startedAt));
  const item = { version, build, os, device, country, carrier, installationId, personId, flags };
  const errors = kind === 'error' ? 1 : 0;
  const end = { at: occurredAt, startedAt, state: stateAfterReport[kind], durationMs, errors };
  return [{ ...item, id: sessionId, sequence: 1, ...end, ...activityOfTrail(trail) }];
}

/** Draws people as often as their weight says; with thousands of them by halving. */
function weightedDraw(people: readonly DemoPerson[], random: Random): () => DemoPerson {
  let sum = 0;
  const upTo = people.map(({ weight }) => {
    // Most people use the app more evenly than those whom things happen to.
    sum += Math.sqrt(weight);
    return sum;
  });
  return () => {
    const wanted = random.next() * sum;
    let low = 0;
    let high = people.length - 1;
    while (low < high) {
      const middle = (low + high) >> 1;
      if ((upTo[middle] as number) > wanted) high = middle;
      else low = middle + 1;
    }
    return people[low] as DemoPerson;
  };
}
