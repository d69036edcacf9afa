import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { dayMs } from '../durations.ts';
import { type IndexedReport, ReportIndex } from '../report-index/report-index.ts';
import type { Term } from '../report-index/report-terms.ts';
import { wholeScope } from '../scope/scope.ts';
import { otherValues } from '../session-index/axis.ts';
import { dayOf } from '../session-index/person-day.ts';
import { askNumbersOfReports, askReports, type ReportsQuestion } from './ask-reports.ts';
import type { Asked } from './asked.ts';
import { stepsOf } from './steps.ts';

const now = Date.parse('2026-11-18T15:00:00Z');
const today = dayOf(now);
const span = { first: today - 29, last: today };
const person = (number: number) => Uint8Array.from({ length: 16 }, (_, at) => (at === 0 ? number : 7));

const terms: readonly Term[] = [
  ...['NO', 'DE', 'SE'].map((value) => ({ field: 'country' as const, key: '', value })),
  ...['terrain', 'sightings'].map((value) => ({ field: 'attributes' as const, key: 'layers', value })),
  ...['3', '4.5', '1000', 'many'].map((value) => ({ field: 'attributes' as const, key: 'tiles', value })),
  ...['4.2.0', '4.10.0', 'v4.2'].map((value) => ({ field: 'version' as const, key: '', value })),
];
const termIs = (field: string, key: string, value: string) =>
  terms.findIndex((one) => one.field === field && one.key === key && one.value === value);

interface OneReport {
  readonly daysAgo: number;
  readonly kind: 'crash' | 'hang';
  readonly version: string;
  readonly caseId: number | null;
  readonly person: number | null;
  readonly weight: number;
  readonly country: string | null;
  readonly layers: readonly string[];
  readonly tiles: string | null;
}

const anyReport: fc.Arbitrary<OneReport> = fc.record({
  daysAgo: fc.integer({ min: 0, max: 40 }),
  kind: fc.constantFrom('crash', 'hang'),
  version: fc.constantFrom('4.2.0', '4.10.0', 'v4.2'),
  caseId: fc.option(fc.integer({ min: 1, max: 3 })),
  person: fc.option(fc.integer({ min: 0, max: 5 })),
  weight: fc.constantFrom(1, 1, 4),
  country: fc.option(fc.constantFrom('NO', 'DE', 'SE')),
  layers: fc.constantFrom([], ['terrain'], ['terrain', 'sightings']),
  tiles: fc.option(fc.constantFrom('3', '4.5', '1000', 'many')),
});
const someReports = fc.array(anyReport, { maxLength: 60 });

function indexOf(reports: readonly OneReport[]): ReportIndex {
  const index = new ReportIndex();
  for (const [at, term] of terms.entries()) index.addTerm(at + 1, term);
  reports.forEach((one, at) => {
    const own = [
      termIs('version', '', one.version),
      one.country === null ? -1 : termIs('country', '', one.country),
      ...one.layers.map((layer) => termIs('attributes', 'layers', layer)),
      one.tiles === null ? -1 : termIs('attributes', 'tiles', one.tiles),
    ];
    const report: IndexedReport = {
      id: at + 1,
      at: now - one.daysAgo * dayMs,
      kind: one.kind,
      version: one.version,
      excluded: false,
      waiting: false,
      caseId: one.caseId,
      person: one.person === null ? null : person(one.person),
      weight: one.weight,
      terms: own.filter((term) => term >= 0).map((term) => term + 1),
    };
    index.put(report);
  });
  return index;
}

const question = (more: Partial<ReportsQuestion>): ReportsQuestion => ({ splits: [], span, isOpen: true, steps: null, most: 10, ...more });
const inWindow = (one: OneReport) => one.daysAgo < 30;

/** The counts of each group, by the names of its values. */
const named = <Cell>({ splits, groups }: Asked<Cell>, of: (cell: Cell) => unknown) =>
  Object.fromEntries(groups.map(({ places, sum }) => [places.map((place, at) => splits[at]?.values[place]).join(' | '), of(sum)]));

/** Counts in the plain way: reports by their weight, others by how many different ones there are. */
function counted(reports: readonly OneReport[], count: 'reports' | 'cases' | 'affected people'): number {
  if (count === 'reports') return reports.reduce((sum, one) => sum + one.weight, 0);
  return new Set(reports.map((one) => (count === 'cases' ? one.caseId : one.person)).filter((one) => one !== null)).size;
}

function grouped(reports: readonly OneReport[], namesOf: (one: OneReport) => readonly string[], count: Parameters<typeof counted>[1]) {
  const groups = new Map<string, OneReport[]>();
  for (const one of reports.filter(inWindow)) for (const name of namesOf(one)) groups.set(name, [...(groups.get(name) ?? []), one]);
  return Object.fromEntries([...groups].map(([name, own]) => [name, counted(own, count)]).filter(([, number]) => number !== 0));
}

describe('reports that are asked for', () => {
  it.each(['reports', 'cases', 'affected people'] as const)(
    '%s are counted as by looking at each, several values of one among them',
    (count) => {
      fc.assert(
        fc.property(someReports, (reports) => {
          const index = indexOf(reports);
          const byBoth = askReports(
            index,
            wholeScope,
            question({
              splits: [
                { field: 'country', key: '' },
                { field: 'attributes', key: 'layers' },
              ],
            }),
            count,
          );
          const namesOf = (one: OneReport) =>
            (one.layers.length === 0 ? [''] : one.layers).map((layer) => `${one.country ?? ''} | ${layer}`);
          expect(named(byBoth, (cell) => cell.count)).toEqual(grouped(reports, namesOf, count));
          expect(byBoth.total.count).toBe(counted(reports.filter(inWindow), count));
          const byKind = askReports(index, wholeScope, question({ splits: [{ field: 'kind', key: '' }] }), count);
          expect(named(byKind, (cell) => cell.count)).toEqual(grouped(reports, (one) => [one.kind], count));
        }),
      );
    },
  );

  it('are counted in each step of time', () => {
    fc.assert(
      fc.property(someReports, (reports) => {
        const steps = stepsOf('week', span, now);
        const asked = askReports(
          indexOf(reports),
          wholeScope,
          question({ steps, splits: [{ field: 'kind', key: '' }] }),
          'affected people',
        );
        for (const { places, course } of asked.groups)
          steps.starts.forEach((start, step) => {
            const end = steps.starts[step + 1] ?? Number.POSITIVE_INFINITY;
            const own = reports.filter((one) => {
              const at = now - one.daysAgo * dayMs;
              return inWindow(one) && one.kind === asked.splits[0]?.values[places[0] as number] && at >= start && at < end;
            });
            expect(course?.[step]?.count).toBe(counted(own, 'affected people'));
          });
      }),
    );
  });

  it('name the commonest values, say how many others there are, and put versions in order under their commonest name', () => {
    const reports = ['NO', 'NO', 'NO', 'DE', 'DE', 'SE'].map(
      (country, at): OneReport => ({
        daysAgo: 1,
        kind: 'crash',
        version: ['4.10.0', 'v4.2', 'v4.2', '4.2.0', '4.10.0', '4.10.0'][at] as string,
        caseId: 1,
        person: at,
        weight: 1,
        country,
        layers: [],
        tiles: null,
      }),
    );
    const index = indexOf(reports);
    const byCountry = askReports(index, wholeScope, question({ most: 1, splits: [{ field: 'country', key: '' }] }), 'reports');
    expect(named(byCountry, (cell) => cell.count)).toEqual({ NO: 3, [otherValues]: 3 });
    expect(byCountry.splits[0]?.gathered).toBe(2);
    const byVersion = askReports(index, wholeScope, question({ splits: [{ field: 'version', key: '' }] }), 'reports');
    expect(byVersion.splits[0]?.values.slice(1)).toEqual(['v4.2', '4.10.0']);
    expect(named(byVersion, (cell) => cell.count)).toEqual({ 'v4.2': 3, '4.10.0': 3 });
    // Named by somebody else, such as by the sessions they are counted against.
    const given = askReports(
      index,
      wholeScope,
      question({ splits: [{ field: 'version', key: '' }], values: [['', '4.2', '9.0', otherValues]] }),
      'reports',
    );
    expect(named(given, (cell) => cell.count)).toEqual({ '4.2': 3, [otherValues]: 3 });
  });

  it('have a design effect of one where everybody caused one, and a larger one where somebody caused many', () => {
    const one = (of: number): OneReport => ({
      daysAgo: 1,
      kind: 'crash',
      version: '4.2.0',
      caseId: 1,
      person: of,
      weight: 1,
      country: null,
      layers: [],
      tiles: null,
    });
    expect(askReports(indexOf([one(1), one(2), one(3)]), wholeScope, question({}), 'reports').total.effect).toBe(1);
    // Σx²/Σx = (9 + 1) / 4
    expect(askReports(indexOf([one(1), one(1), one(1), one(2)]), wholeScope, question({}), 'reports').total.effect).toBe(2.5);
  });
});

describe('numbers of an attribute', () => {
  it('are summed with the reports that they stand for; what is no number is left out', () => {
    fc.assert(
      fc.property(someReports, (reports) => {
        const asked = askNumbersOfReports(indexOf(reports), wholeScope, question({ splits: [{ field: 'country', key: '' }] }), {
          statistic: 'sum',
          attribute: 'tiles',
        });
        const told = reports.filter((one) => inWindow(one) && one.tiles !== null && one.tiles !== 'many');
        const expected = new Map<string, number>();
        for (const one of told) expected.set(one.country ?? '', (expected.get(one.country ?? '') ?? 0) + one.weight * Number(one.tiles));
        expect(named(asked, (cell) => cell.value)).toEqual(Object.fromEntries(expected));
        expect(asked.histogram?.counts.reduce((sum, one) => sum + one, 0) ?? 0).toBe(told.reduce((sum, one) => sum + one.weight, 0));
      }),
    );
  });
});
