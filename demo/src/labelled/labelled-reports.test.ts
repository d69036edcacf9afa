import { bareContext, groupReport } from '@rough-ember/core/grouping/group-report';
import { symbolicate } from '@rough-ember/core/symbolicate/symbolicate';
import { beforeAll, describe, expect, it } from 'vitest';
import { larkfieldApps } from '../larkfield.ts';
import { type LabelledReport, labelledReports } from './labelled-reports.ts';
import { openBuild, type ProgramBuild } from './program-build.ts';

let builds: ProgramBuild[];
let reports: LabelledReport[];
beforeAll(async () => {
  builds = (await Promise.all(larkfieldApps.flatMap((app) => app.releases.map((release) => openBuild(app, release))))).flat();
  reports = labelledReports(builds, { causes: 60, reports: 400 });
});

const read = ({ build, exceptions }: LabelledReport) =>
  symbolicate({ exceptions: [...exceptions], threads: [] }, build.source, { ours: build.ours });

describe('reports of known causes', () => {
  it('come from every runtime, several builds and all causes', () => {
    expect(new Set(builds.map((build) => build.runtime))).toEqual(new Set(['jvm', 'native', 'javascript', 'dart', 'dotnet']));
    expect(new Set(reports.map((report) => report.cause)).size).toBe(60);
    expect(new Set(reports.map((report) => report.build.name)).size).toBeGreaterThan(8);
  });

  it('are what the builds themselves print: every frame of ours reads back', () => {
    for (const report of reports) {
      const ours = read(report)
        .exceptions.flatMap((one) => one.frames)
        .filter((frame) => frame.ours);
      expect(ours.length).toBeGreaterThan(0);
      expect(ours.filter((frame) => frame.status === 'no-symbols')).toEqual([]);
    }
  });

  it('look different for the same cause', () => {
    const raw = new Map<number, Set<string>>();
    for (const { cause, exceptions } of reports) raw.set(cause, (raw.get(cause) ?? new Set()).add(JSON.stringify(exceptions)));
    expect([...raw.values()].filter((looks) => looks.size > 1).length).toBeGreaterThan(55);
  });

  it('are the same from the same seed', () => {
    expect(labelledReports(builds, { causes: 60, reports: 400 }).map(({ cause, exceptions }) => ({ cause, exceptions }))).toEqual(
      reports.map(({ cause, exceptions }) => ({ cause, exceptions })),
    );
  });

  it('are mostly grouped by their cause', () => {
    const keys = new Map<number, Map<string, number>>();
    for (const report of reports) {
      const { key } = groupReport(bareContext('crash'), read(report));
      const own = keys.get(report.cause) ?? new Map<string, number>();
      keys.set(report.cause, own.set(key, (own.get(key) ?? 0) + 1));
    }
    const inLargest = [...keys.values()].reduce((sum, own) => sum + Math.max(...own.values()), 0);
    expect(inLargest / reports.length).toBeGreaterThan(0.9);
  });
});
