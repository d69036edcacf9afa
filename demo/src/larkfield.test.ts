import { firstLookSchema } from '@rough-ember/core/first-look/first-look';
import { reportSchema } from '@rough-ember/core/report/report';
import { sessionItemSchema } from '@rough-ember/core/report/session';
import { describe, expect, it } from 'vitest';
import { screenOf } from './demo-activity.ts';
import { demoReports } from './demo-app.ts';
import { demoSessions } from './demo-sessions.ts';
import { guideFirstLook } from './first-look.ts';
import { guideBuilds } from './guide-builds.ts';
import { buildWithoutMapping, larkfieldApps, larkfieldGuide, larkfieldReports, phones } from './larkfield.ts';

const now = new Date('2026-11-23T12:00:00Z');
const reports = larkfieldReports(now);

describe('the Larkfield demo', () => {
  it('is the same for the same moment', () => expect(larkfieldReports(now)).toEqual(reports));

  it('holds reports that the protocol takes, none from the future, each with an id of its own', () => {
    for (const report of reports) expect(reportSchema.safeParse(report).error).toBeUndefined();
    expect(reports.every((report) => new Date(report.occurredAt) <= now)).toBe(true);
    expect(new Set(reports.map((report) => report.id)).size).toBe(reports.length);
  });

  it('tells its stories: every crash of every build happens, and one begins in a version and grows', () => {
    const seen = new Set(reports.map((report) => `${report.version} ${screenOf(report)}`));
    for (const { version, screens, nativeScreens } of guideBuilds.slice(0, -1))
      for (const screen of [...screens, ...nativeScreens]) expect(seen).toContain(`${version} ${screen}`);
    const nightMap = reports.filter((report) => screenOf(report) === 'night-map').map((report) => Date.parse(report.occurredAt));
    const middle = (Math.min(...nightMap) + now.getTime()) / 2;
    expect(nightMap.filter((at) => at > middle).length).toBeGreaterThan(nightMap.filter((at) => at <= middle).length);
  });

  it.each(larkfieldApps.slice(1))('has every crash of every build of $app.name, as the protocol takes it', (demo) => {
    const sent = demoReports(demo, now);
    for (const report of sent) expect(reportSchema.safeParse(report).error).toBeUndefined();
    const happened = new Set(sent.map((report) => `${report.version} ${screenOf(report)}`));
    for (const { version, crashes } of demo.releases)
      for (const screen of Object.keys(crashes)) expect(happened).toContain(`${version} ${screen}`);
  });

  it('walks through its screens, whose worst is not the one that is opened most', () => {
    const sessions = demoSessions(larkfieldGuide, now, reports, 6_000);
    for (const one of sessions.slice(0, 500)) expect(sessionItemSchema.safeParse(one).error).toBeUndefined();
    const visits = new Map<string, number>();
    for (const { screens = [] } of sessions)
      for (const { name, visits: more = 1 } of screens) visits.set(name, (visits.get(name) ?? 0) + more);
    const crashes = reports.filter((one) => one.kind === 'crash').map(screenOf);
    const rate = (screen: string) => crashes.filter((one) => one === screen).length / (visits.get(screen) ?? 0);
    const byVisits = [...visits].sort(([, a], [, b]) => b - a).map(([screen]) => screen);
    expect(byVisits[0]).toBe('home');
    expect(byVisits.slice(0, 5)).not.toContain('diary-export');
    expect(rate('night-map')).toBeGreaterThan(4 * rate('species'));
  });

  it('leaves some reports of the newest build unreadable, and their file at hand', () => {
    const waiting = reports.filter((report) => report.version === buildWithoutMapping.version);
    expect(waiting.length).toBeGreaterThan(5);
    expect(waiting.length).toBeLessThan(60);
  });
});

it('asks a newcomer what its own stories answer', () => {
  const right = guideFirstLook.map(({ choices, answer }) => choices[answer]);
  const onlyOn = phones.find((one) => one.model === larkfieldGuide.screens['diary-export']?.onlyOn);
  expect(right).toEqual([
    larkfieldGuide.rollouts.find((one) => one.action === 'halt')?.version,
    `${onlyOn?.manufacturer} ${onlyOn?.model}`,
    `those for whom the flag ${larkfieldGuide.flag.name} is on`,
    larkfieldGuide.cameBack?.where,
    buildWithoutMapping.build,
  ]);
  expect(firstLookSchema.safeParse(guideFirstLook).success).toBe(true);
});
