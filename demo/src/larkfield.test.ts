import { reportSchema } from '@rough-ember/core/report/report';
import { describe, expect, it } from 'vitest';
import { demoReports } from './demo-app.ts';
import { guideBuilds } from './guide-builds.ts';
import { buildWithoutMapping, larkfieldApps, larkfieldReports } from './larkfield.ts';

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
    const seen = new Set(reports.map((report) => `${report.version} ${report.attributes?.screen}`));
    for (const { version, screens, nativeScreens } of guideBuilds.slice(0, -1))
      for (const screen of [...screens, ...nativeScreens]) expect(seen).toContain(`${version} ${screen}`);
    const nightMap = reports.filter((report) => report.attributes?.screen === 'night-map').map((report) => Date.parse(report.occurredAt));
    const middle = (Math.min(...nightMap) + now.getTime()) / 2;
    expect(nightMap.filter((at) => at > middle).length).toBeGreaterThan(nightMap.filter((at) => at <= middle).length);
  });

  it.each(larkfieldApps.slice(1))('has every crash of every build of $app.name, as the protocol takes it', (demo) => {
    const sent = demoReports(demo, now);
    for (const report of sent) expect(reportSchema.safeParse(report).error).toBeUndefined();
    const happened = new Set(sent.map((report) => `${report.version} ${report.attributes?.screen}`));
    for (const { version, crashes } of demo.releases)
      for (const screen of Object.keys(crashes)) expect(happened).toContain(`${version} ${screen}`);
  });

  it('leaves some reports of the newest build unreadable, and their file at hand', () => {
    const waiting = reports.filter((report) => report.version === buildWithoutMapping.version);
    expect(waiting.length).toBeGreaterThan(5);
    expect(waiting.length).toBeLessThan(60);
  });
});
