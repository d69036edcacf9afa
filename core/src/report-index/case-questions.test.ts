import { describe, expect, it } from 'vitest';
import { type Scope, wholeScope } from '../scope/scope.ts';
import { notableCases } from './case-history.ts';
import { newestReports, positionOf } from './case-reports.ts';
import { casesOfVersions } from './cases-of-versions.ts';
import { ReportIndex } from './report-index.ts';
import type { Term } from './report-terms.ts';
import { similarCases } from './similar-cases.ts';
import { otherValues, timeChart } from './time-chart.ts';

const hourMs = 3_600_000;
const now = Date.UTC(2026, 4, 20, 12, 30);

function indexOf(terms: readonly Term[], reports: readonly { caseId: number; hoursAgo: number; terms: readonly number[] }[]): ReportIndex {
  const index = new ReportIndex();
  for (const [at, term] of terms.entries()) index.addTerm(at + 1, term);
  for (const [at, { caseId, hoursAgo, terms: own }] of reports.entries())
    index.put({
      id: at + 1,
      at: now - hoursAgo * hourMs,
      kind: 'crash',
      version: '1',
      excluded: false,
      waiting: false,
      caseId,
      person: null,
      weight: 1,
      terms: own.map((term) => term + 1),
    });
  return index;
}

const stack = (...functions: string[]): Term => ({ field: 'stack', key: '', value: functions.join('\n') });

describe('similar cases', () => {
  const common = ['Looper.loop', 'Main.main'];
  const index = indexOf(
    [
      stack('Tiles.get', 'Map.draw', ...common),
      stack('Tiles.put', 'Map.draw', 'Tiles.get', ...common),
      stack('Song.hear', 'Ear.open', ...common),
      ...Array.from({ length: 40 }, (_, at) => stack(`Other${at}.run`, ...common)),
    ],
    Array.from({ length: 43 }, (_, at) => ({ caseId: 100 + at, hoursAgo: 1, terms: [at] })),
  );

  it('share what few stacks have, not what all end in', () => {
    expect(similarCases(index, 100).map(({ caseId, shared }) => ({ caseId, shared: shared.slice(0, 2).sort() }))).toEqual([
      { caseId: 101, shared: ['Map.draw', 'Tiles.get'] },
    ]);
    expect(similarCases(index, 102)).toEqual([]);
  });

  it('are none for a case that is not there', () => expect(similarCases(index, 7)).toEqual([]));

  it('follow the last report of a case', () => {
    index.put({
      id: 3,
      at: now,
      kind: 'crash',
      version: '1',
      excluded: false,
      waiting: false,
      caseId: 102,
      person: null,
      weight: 1,
      terms: [1],
    });
    expect(similarCases(index, 102)[0]).toMatchObject({ caseId: 100, likeness: 1 });
  });
});

describe('the time chart of a case', () => {
  const country = (value: string): Term => ({ field: 'country', key: '', value });
  const index = indexOf(
    ['NO', 'DE', 'GB', 'IE', 'FR', 'SE', 'FI', 'DK'].map(country),
    [0, 1, 30, 60, 400, 1000].map((hoursAgo, at) => ({ caseId: 1, hoursAgo, terms: at < 5 ? [at % 2] : [] })),
  );
  const chart = (days: Scope['days']) => timeChart(index, 1, { ...wholeScope, days }, now, { field: 'country', key: '' });

  it('goes by hours in a short window, by days in a longer one, and by weeks beyond four months', () => {
    expect([1, 7, 30, 90].map((days) => chart(days as Scope['days']).stepMs / hourMs)).toEqual([1, 24, 24, 24]);
    const old = indexOf([], [{ caseId: 1, hoursAgo: 24 * 200, terms: [] }]);
    expect(timeChart(old, 1, wholeScope, now, { field: 'country', key: '' }).stepMs / hourMs).toBe(7 * 24);
  });

  it('puts each report in its step, those without the field under others', () => {
    const { from, stepMs, series } = chart(90);
    expect(series.map(({ value, reports }) => [value, reports.reduce((sum, one) => sum + one, 0)])).toEqual([
      ['NO', 3],
      ['DE', 2],
      [otherValues, 1],
    ]);
    const last = series[0]?.reports.length as number;
    expect(from + last * stepMs).toBeGreaterThan(now);
    expect(series[0]?.reports.at(-1)).toBe(1);
  });

  it('names the six commonest values and counts the rest as others', () => {
    const many = indexOf(
      Array.from({ length: 9 }, (_, at) => country(`C${at}`)),
      Array.from({ length: 45 }, (_, at) => ({ caseId: 1, hoursAgo: 1, terms: [Math.floor(Math.sqrt(2 * at))] })).filter(
        (one) => (one.terms[0] as number) < 9,
      ),
    );
    const { series } = timeChart(many, 1, { ...wholeScope, days: 1 }, now, { field: 'country', key: '' });
    expect(series).toHaveLength(7);
    expect(series.at(-1)?.value).toBe(otherValues);
  });
});

describe('the reports of a case', () => {
  const index = indexOf(
    [],
    [5, 1, 9, 1].map((hoursAgo) => ({ caseId: 1, hoursAgo, terms: [] })),
  );

  it('are listed newest first, and each knows its place', () => {
    expect(newestReports(index, 1, wholeScope, now, 3)).toEqual([4, 2, 1]);
    expect([1, 2, 3, 4].map((id) => positionOf(index, 1, wholeScope, now, id))).toEqual([2, 1, 3, 0]);
    expect(positionOf(index, 1, wholeScope, now, 77)).toBeNull();
  });
});

describe('cases that are worth a mark', () => {
  const index = new ReportIndex();
  const reports = [
    { caseId: 1, hoursAgo: 100, person: 1 },
    { caseId: 1, hoursAgo: 2, person: 1 },
    { caseId: 2, hoursAgo: 5, person: 2 },
    { caseId: 3, hoursAgo: 4, person: 3 },
    { caseId: 4, hoursAgo: 3, person: 3 },
    { caseId: 4, hoursAgo: 1, person: 7 },
  ];
  for (const [at, { caseId, hoursAgo, person }] of reports.entries()) {
    const key = Uint8Array.from({ length: 16 }, () => person);
    const about = { kind: 'crash' as const, version: '1', excluded: false, waiting: false, weight: 1, terms: [] };
    index.put({ id: at + 1, at: now - hoursAgo * hourMs, caseId, person: key, ...about });
  }

  it('began since a moment, and those with most people come first', () => {
    const { started, among } = notableCases(index, wholeScope, now, { since: now - 24 * hourMs, among: [3, 4, 1, 77, 4], most: 2 });
    expect(started).toEqual([
      { caseId: 4, beganAt: now - 3 * hourMs },
      { caseId: 2, beganAt: now - 5 * hourMs },
    ]);
    expect(among).toEqual([4, 1, 3]);
  });
});

describe('the cases of versions', () => {
  it('are told by the version they began, happened and ended in, by version order, of released builds', () => {
    const index = new ReportIndex();
    const reports: readonly [caseId: number, version: string, person: number | null, more?: object][] = [
      [1, '4.10.0', 1],
      [1, '4.2.0', 1],
      [1, '4.2.0', 2],
      [1, '4.2.0', 2],
      [2, '4.2.0', 3],
      [3, '4.10.0', 3],
      [3, '4.10.0', null],
      [4, '4.2.0', 4, { excluded: true }],
      [5, '4.2.0', 4, { kind: 'error' }],
    ];
    for (const [at, [caseId, version, person, more]] of reports.entries()) {
      const key = person === null ? null : Uint8Array.from({ length: 16 }, () => person);
      index.put({
        id: at + 1,
        at: now,
        kind: 'crash',
        version,
        excluded: false,
        waiting: false,
        caseId,
        person: key,
        weight: 1,
        terms: [],
        ...more,
      });
    }
    expect(casesOfVersions(index, ['crash'], { most: 1 })).toEqual([
      { version: '4.2.0', began: [{ caseId: 1, people: 2, reports: 3 }], ended: 1, seen: 2 },
      { version: '4.10.0', began: [{ caseId: 3, people: 1, reports: 2 }], ended: 2, seen: 2 },
    ]);
    index.remove(1);
    expect(casesOfVersions(index, ['crash'], { most: 9 }).map((one) => one.ended)).toEqual([2, 1]);
  });
});
