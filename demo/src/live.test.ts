import { reportSchema } from '@rough-ember/core/report/report';
import { sessionItemSchema } from '@rough-ember/core/report/session';
import { describe, expect, it } from 'vitest';
import { demoPeople } from './demo-app.ts';
import { larkfieldApps } from './larkfield.ts';
import { startLife } from './live.ts';
import { Random } from './random.ts';

describe.each(larkfieldApps.map((demo) => [demo.app.name, demo] as const))('the people of %s', (_, demo) => {
  const live = startLife(demo, 7);
  const now = new Date('2026-11-20T12:00:00Z');
  const moments = Array.from({ length: 400 }, (_, at) => live(new Date(now.getTime() + at * 8_000)));
  const sessions = moments.flatMap((one) => one.sessions);
  const reports = moments.flatMap((one) => one.reports);

  it('are those of the demo, and go on using it', () => {
    const known = new Set(demoPeople(new Random(demo.seed), demo).map((one) => one.installationId));
    expect(sessions.length).toBeGreaterThan(300);
    expect(sessions.every((one) => known.has(one.installationId as string))).toBe(true);
    expect(new Set(sessions.map((one) => one.id)).size).toBe(sessions.length);
  });

  it('send what the intake takes, each report with its session', () => {
    expect(reports.length).toBeGreaterThan(3);
    const ids = new Set(sessions.map((one) => one.id));
    for (const one of reports) {
      expect(reportSchema.safeParse(one).error).toBeUndefined();
      expect(ids.has(one.sessionId as string)).toBe(true);
    }
    for (const one of sessions) expect(sessionItemSchema.safeParse(one).error).toBeUndefined();
  });
});
