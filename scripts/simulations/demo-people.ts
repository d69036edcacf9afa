import { demoReports } from '@rough-ember/demo/demo-app';
import { demoSessions } from '@rough-ember/demo/demo-sessions';
import { demoOfSize, larkfieldApps } from '@rough-ember/demo/larkfield';

/** Crashed sessions and all sessions of a person. */
export type PersonDone = readonly [bad: number, sessions: number];

/** The people of each app of the demo, as one finds them in a demo of the usual size. */
export function demoPeople(sessions = 33_000): { readonly slug: string; readonly people: readonly PersonDone[] }[] {
  const now = new Date('2026-11-20T12:00:00Z');
  return larkfieldApps.map((app) => {
    const sized = demoOfSize(app, sessions);
    const reports = demoReports(sized.demo, now);
    const crashed = new Set(reports.filter((one) => one.kind === 'crash').map((one) => one.sessionId));
    const people = new Map<string, [number, number]>();
    for (const { id, personId, installationId } of demoSessions(sized.demo, now, reports, sized.sessions)) {
      const who = personId ?? installationId ?? id;
      const [bad, all] = people.get(who) ?? [0, 0];
      people.set(who, [bad + (crashed.has(id) ? 1 : 0), all + 1]);
    }
    return { slug: app.app.slug, people: [...people.values()] };
  });
}
