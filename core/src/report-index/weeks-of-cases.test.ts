import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { dayMs, hourMs } from '../durations.ts';
import { wholeScope } from '../scope/scope.ts';
import { ReportIndex } from './report-index.ts';
import { lastWeeks, weeksOfCases } from './weeks-of-cases.ts';

const today = 20_600;
const versions = ['4.2.0', '4.3.0'] as const;

interface OneReport {
  readonly caseId: number;
  readonly hoursBeforeToday: number;
  readonly version: (typeof versions)[number];
  readonly person: number | null;
  readonly weight?: number;
}

function indexOf(reports: readonly OneReport[]): ReportIndex {
  const index = new ReportIndex();
  for (const [at, { caseId, hoursBeforeToday, version, person, weight = 1 }] of reports.entries())
    index.put({
      id: at + 1,
      at: today * dayMs - hoursBeforeToday * hourMs,
      kind: 'crash',
      version,
      excluded: false,
      waiting: false,
      caseId,
      person: person === null ? null : Uint8Array.of(person, 0, 0, 0, 0, 0, 0, 1),
      weight,
      terms: [],
    });
  return index;
}

const sessions = {
  week: versions.map((version, at) => ({ version, sessions: 1_000 * (at + 1) })),
  weekBefore: versions.map((version, at) => ({ version, sessions: 4_000 / (at + 1) })),
};

describe('the last whole weeks of cases', () => {
  it('end before today, and have the same weekdays', () =>
    expect(lastWeeks(today)).toEqual({
      week: { first: today - 7, last: today - 1 },
      weekBefore: { first: today - 14, last: today - 8 },
    }));

  it('are counted as one who looks at each report', () => {
    const anyReport = fc.record<OneReport>({
      caseId: fc.integer({ min: 100, max: 102 }),
      hoursBeforeToday: fc.integer({ min: -20, max: 15 * 24 }),
      version: fc.constantFrom(...versions),
      person: fc.option(fc.nat(4)),
    });
    fc.assert(
      fc.property(fc.array(anyReport, { maxLength: 60 }), (reports) => {
        const inWeek = ({ hoursBeforeToday }: OneReport, week: number) =>
          hoursBeforeToday > 0 && Math.ceil(hoursBeforeToday / (7 * 24)) === week;
        const people = (own: readonly OneReport[], week: number) => {
          const of = own.filter((one) => inWeek(one, week));
          return of.filter(({ person }) => person === null).length + new Set(of.flatMap(({ person }) => person ?? [])).size;
        };
        const expected = [100, 101, 102].flatMap((caseId) => {
          const own = reports.filter((one) => one.caseId === caseId && (inWeek(one, 1) || inWeek(one, 2)));
          if (own.length === 0) return [];
          const count = (of: (typeof sessions)['week']) =>
            of.filter(({ version }) => own.some((one) => one.version === version)).reduce((sum, one) => sum + one.sessions, 0);
          return [
            {
              caseId,
              week: { hits: people(own, 1), count: count(sessions.week) },
              weekBefore: { hits: people(own, 2), count: count(sessions.weekBefore) },
            },
          ];
        });
        const found = weeksOfCases(indexOf(reports), wholeScope, today, sessions);
        expect(found.sort((a, b) => a.caseId - b.caseId)).toEqual(expected);
      }),
    );
  });

  it('do not change because one of them was sampled', () => {
    // Of 2,000 people in each week a tenth was kept of the week before, and all of the last one.
    const reports = Array.from({ length: 2_000 }, (_, person): OneReport[] => {
      const one = { caseId: 100, version: '4.2.0', person: null } as const;
      const sampled = { ...one, hoursBeforeToday: 24 * 10, weight: 10 };
      return [{ ...one, hoursBeforeToday: 24 * 3 }, ...(person % 10 === 0 ? [sampled] : [])];
    }).flat();
    const [found] = weeksOfCases(indexOf(reports), wholeScope, today, { week: [], weekBefore: [] });
    expect(found?.weekBefore.hits).toBe(200);
    // Four standard deviations of a tenth of 2,000.
    expect(Math.abs((found?.week.hits ?? 0) - 200)).toBeLessThan(54);
  });

  it('are as long as each other where no session was told', () => {
    const report = { caseId: 100, hoursBeforeToday: 5, version: '4.2.0', person: 1 } as const;
    const [found] = weeksOfCases(indexOf([report]), wholeScope, today, { week: [], weekBefore: [] });
    expect(found?.week.count).toBe(found?.weekBefore.count);
    expect(found?.week.hits).toBe(1);
  });
});
