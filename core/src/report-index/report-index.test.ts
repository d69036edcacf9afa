import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { reportKinds } from '../report/report-kinds.ts';
import { parseFilter } from '../scope/filter/parse-filter.ts';
import { defaultScope, type Scope, wholeScope } from '../scope/scope.ts';
import { compareVersions } from '../version/version-order.ts';
import { beginningsOf, historiesOf, trendSteps } from './case-history.ts';
import { caseReports } from './case-reports.ts';
import { countCases, countVersions } from './count-cases.ts';
import { fieldsInUse, fieldValues } from './field-values.ts';
import { Numbering } from './numbering.ts';
import { type IndexedReport, ReportIndex } from './report-index.ts';
import type { Term } from './report-terms.ts';
import { standOut } from './stand-out.ts';
import { packTermIds, unpackTermIds } from './term-ids.ts';
import { timeChart } from './time-chart.ts';

const now = Date.UTC(2026, 4, 20);
const dayMs = 86_400_000;
const filter = (text: string) => {
  const parsed = parseFilter(text);
  if (!parsed.ok) throw new Error(parsed.problem.message);
  return parsed.value;
};
const person = (number: number) => Uint8Array.from({ length: 16 }, (_, at) => (at < 4 ? (number >> (8 * at)) & 255 : 7));

const terms: readonly Term[] = [
  { field: 'country', key: '', value: 'NO' },
  { field: 'country', key: '', value: 'DE' },
  { field: 'flags', key: 'night-map', value: 'on' },
  { field: 'flags', key: 'night-map', value: 'off' },
  { field: 'attributes', key: 'layers', value: 'terrain' },
  { field: 'attributes', key: 'layers', value: 'sightings' },
  { field: 'attributes', key: 'depth', value: '12' },
  { field: 'attributes', key: 'depth', value: '7.5' },
  { field: 'version', key: '', value: '4.2.0' },
  { field: 'version', key: '', value: '4.10.0' },
  { field: 'stack', key: '', value: 'NightMap.tileFor\nTileCache.get' },
  { field: 'message', key: '', value: 'no tile <number>' },
];

/** The numbers of the store are not those of the index. */
const idOf = (term: number) => 1000 - 7 * term;

const newIndex = () => {
  const index = new ReportIndex();
  for (const [at, term] of terms.entries()) index.addTerm(idOf(at), term);
  return index;
};

const anyReport = fc.record({
  id: fc.integer({ min: 1, max: 40 }),
  daysAgo: fc.integer({ min: 0, max: 40 }),
  kind: fc.constantFrom(...reportKinds),
  version: fc.constantFrom('4.2.0', '4.10.0', '4.9'),
  excluded: fc.boolean(),
  waiting: fc.boolean(),
  caseId: fc.option(fc.integer({ min: 100, max: 105 })),
  person: fc.option(fc.integer({ min: 0, max: 6 })),
  weight: fc.constantFrom(1, 1, 2, 10),
  terms: fc.uniqueArray(fc.nat(terms.length - 1)),
});
type AnyReport = typeof anyReport extends fc.Arbitrary<infer Value> ? Value : never;

const toIndexed = ({ daysAgo, person: number, terms: own, ...rest }: AnyReport): IndexedReport => ({
  ...rest,
  at: now - daysAgo * dayMs - 1000,
  person: number === null ? null : person(number),
  terms: own.map(idOf),
});

/** How many reports some stand for. */
const weightOf = (reports: readonly AnyReport[]): number => reports.reduce((sum, one) => sum + one.weight, 0);

const has = (report: AnyReport, ...wanted: number[]) => wanted.some((term) => report.terms.includes(term));

/** Filters with what they mean, written the plain way. */
const filters: readonly [string, (report: AnyReport) => boolean][] = [
  ['', () => true],
  ['country = NO', (one) => has(one, 0)],
  ['country != NO', (one) => !has(one, 0)],
  ['NOT country:DE', (one) => !has(one, 1)],
  ['country = *', (one) => has(one, 0, 1)],
  ['flags:night-map', (one) => has(one, 2, 3)],
  ['flags.night-map = on OR attributes.layers:terrain', (one) => has(one, 2, 4)],
  ['attributes.depth > 8', (one) => has(one, 6)],
  ['attributes.depth <= 7.50', (one) => has(one, 7)],
  ['version >= 4.3', (one) => has(one, 9)],
  ['kind = crash OR kind = hang', (one) => one.kind === 'crash' || one.kind === 'hang'],
  ['tilefor -kind = error', (one) => has(one, 10) && one.kind !== 'error'],
  ['stack = TileCache.get', (one) => has(one, 10)],
  ['"no tile 4711"', (one) => has(one, 11)],
  ['layers', () => false],
  ['sight', (one) => has(one, 5)],
];

const anyScope = fc.record({
  days: fc.constantFrom(null, 7 as const, 14 as const, 30 as const),
  kinds: fc.subarray([...reportKinds], { minLength: 1 }),
  versions: fc.constantFrom<Scope['versions']>({ match: 'any' }, { match: 'only', version: '4.9' }, { match: 'from', version: '4.9' }),
  builds: fc.constantFrom('released' as const, 'excluded' as const, 'any' as const),
  filter: fc.nat(filters.length - 1),
});

describe('the index', () => {
  it('counts as one who looks at every report', () => {
    fc.assert(
      fc.property(
        fc.array(anyReport, { maxLength: 60 }),
        fc.array(fc.integer({ min: 1, max: 40 }), { maxLength: 5 }),
        anyScope,
        (puts, removed, drawn) => {
          const index = newIndex();
          const there = new Map<number, AnyReport>();
          for (const report of puts) {
            index.put(toIndexed(report));
            there.set(report.id, report);
          }
          for (const id of removed) {
            index.remove(id);
            there.delete(id);
          }
          const [text, means] = filters[drawn.filter] as (typeof filters)[number];
          const scope: Scope = { ...drawn, cases: 'any', assignee: 'anybody', filter: filter(text) };
          const { versions } = scope;
          const holds = (one: AnyReport) =>
            scope.kinds.includes(one.kind) &&
            (scope.builds === 'any' || one.excluded === (scope.builds === 'excluded')) &&
            (versions.match === 'any' ||
              (versions.match === 'only' ? one.version === versions.version : compareVersions(one.version, versions.version) >= 0)) &&
            means(one);
          const at = (one: AnyReport) => now - one.daysAgo * dayMs - 1000;
          const today = Math.floor(now / dayMs) * dayMs;
          const from = scope.days === 1 ? now - dayMs : today - ((scope.days ?? 0) - 1) * dayMs;
          const inWindow = (one: AnyReport) => scope.days === null || at(one) >= from;
          const all = [...there.values()];
          const inScope = all.filter((one) => holds(one) && inWindow(one));
          const peopleOf = (some: AnyReport[]) => new Set(some.map((one) => one.person).filter((one) => one !== null)).size;

          const counted = countCases(index, scope, now);
          const { reports, kept, people, waiting } = counted;
          expect({ reports, kept, people, waiting }).toEqual({
            reports: weightOf(inScope),
            kept: inScope.length,
            people: peopleOf(inScope),
            waiting: inScope.filter((one) => one.waiting).length,
          });
          const caseIds = [...new Set(inScope.flatMap((one) => one.caseId ?? []))].sort();
          expect([...counted.cases].sort((a, b) => a.caseId - b.caseId)).toEqual(
            caseIds.map((caseId) => {
              const own = inScope.filter((one) => one.caseId === caseId);
              const times = own.map((one) => toIndexed(one).at);
              return {
                caseId,
                reports: weightOf(own),
                people: peopleOf(own),
                firstAt: Math.min(...times),
                lastAt: Math.max(...times),
                sessions: 0,
              };
            }),
          );
          for (const [caseId, { byVersion, trend, beganAt }] of historiesOf(index, caseIds, scope, now)) {
            const life = all.filter((one) => one.caseId === caseId);
            expect(byVersion.reduce((sum, one) => sum + one.reports, 0)).toBe(weightOf(life));
            const own = inScope.filter((one) => one.caseId === caseId);
            expect(trend.reduce((sum, one) => sum + one, 0)).toBe(weightOf(own));
            expect(trend).toHaveLength(trendSteps);
            expect(beginningsOf(index, [caseId]).get(caseId)).toBe(beganAt);
            expect(beganAt).toBe(Math.min(...life.map((one) => toIndexed(one).at)));
            expect(caseReports(index, caseId, scope, now, 0).count).toBe(own.length);
            const chart = timeChart(index, caseId, scope, now, { field: 'country', key: '' });
            expect(chart.series.reduce((sum, one) => sum + one.reports.reduce((total, count) => total + count, 0), 0)).toBe(weightOf(own));
          }
          expect(countVersions(index).reduce((sum, one) => sum + one.reports, 0)).toBe(weightOf(all));
          const countries = fieldValues(index, scope, now, { field: 'country', key: '' });
          const ofCountry = (term: number) => inScope.filter((one) => has(one, term));
          for (const { value, reports, people } of countries.values) {
            const own = ofCountry(value === 'NO' ? 0 : 1);
            expect({ reports, people }).toEqual({ reports: weightOf(own), people: peopleOf(own) });
          }
          expect(countries.without).toBe(weightOf(inScope.filter((one) => !has(one, 0, 1))));
        },
      ),
      { numRuns: 300 },
    );
  });

  it('steps through the reports of a case, the newest first', () => {
    const index = newIndex();
    const base = { kind: 'crash', version: '4.9', excluded: false, waiting: false, caseId: 100, person: 1, weight: 1 } as const;
    index.put(toIndexed({ ...base, id: 1, daysAgo: 9, terms: [0, 2, 4, 6, 8, 11] }));
    index.put(toIndexed({ ...base, id: 2, daysAgo: 3, terms: [0, 2] }));
    index.put(toIndexed({ ...base, id: 3, daysAgo: 3, terms: [0, 2, 4] }));
    index.put(toIndexed({ ...base, id: 4, daysAgo: 5, terms: [1] }));
    const at = (position: number) => caseReports(index, 100, defaultScope, now, position);
    expect([0, 1, 2, 3, 99].map((position) => at(position).reportRow)).toEqual([3, 2, 4, 1, 1]);
    expect(at(99)).toMatchObject({ count: 4, position: 3, typical: 0, complete: 3 });
    expect(caseReports(index, 7, defaultScope, now, 0)).toMatchObject({ count: 0, reportRow: null });
  });

  it('says which fields there are, flags and attributes by name', () => {
    const used = fieldsInUse(newIndex()).map(({ field, key, values }) => `${field}.${key} ${values}`);
    expect(used.slice(0, 4)).toEqual(['country. 2', 'flags.night-map 2', 'attributes.layers 2', 'attributes.depth 2']);
  });
});

describe('what stands out', () => {
  const fill = (count: number, ofCase: (at: number) => number | null, own: (at: number) => number[]) => {
    const index = newIndex();
    for (let at = 0; at < count; at++)
      index.put(
        toIndexed({
          id: at + 1,
          daysAgo: 1,
          kind: 'crash',
          version: '4.9',
          excluded: false,
          waiting: false,
          caseId: ofCase(at),
          person: at,
          weight: 1,
          terms: own(at),
        }),
      );
    return index;
  };

  it('is what the people of a case have and others do not, with how much and how sure', () => {
    // The flag is on for all of case 100 and for a fifth of the others; the country is the same everywhere.
    const index = fill(
      600,
      (at) => (at < 100 ? 100 : 101),
      (at) => [at % 2, at < 100 || at % 5 === 0 ? 2 : 3],
    );
    const { values, people, others, looks } = standOut(index, 100, wholeScope, now);
    expect({ people, others, looks }).toEqual({ people: 100, others: 500, looks: 3 });
    expect(values.map(({ term }) => term)).toEqual([terms[2]]);
    expect(values[0]).toMatchObject({ people: 100, share: 1, shareOfOthers: 0.2 });
    expect(values[0]?.lift.value).toBeCloseTo(5, 0);
    expect(values[0]?.lift.low).toBeGreaterThan(3.5);
  });

  it('is nothing where there is nobody else, or too few to say', () => {
    expect(
      standOut(
        fill(
          50,
          () => 100,
          () => [0],
        ),
        100,
        wholeScope,
        now,
      ),
    ).toMatchObject({ people: 50, others: 0, values: [] });
    expect(
      standOut(
        fill(
          6,
          (at) => (at < 3 ? 100 : 101),
          (at) => [at < 3 ? 0 : 1],
        ),
        100,
        wholeScope,
        now,
      ).values,
    ).toEqual([]);
  });

  it('draws from a sample where there are many, and says so', () => {
    const index = fill(
      45_000,
      (at) => (at < 500 ? 100 : 101),
      (at) => [at < 500 || at % 4 === 0 ? 2 : 3],
    );
    const { isSample, others, values } = standOut(index, 100, wholeScope, now);
    expect(isSample).toBe(true);
    expect(others).toBeGreaterThan(18_000);
    expect(others).toBeLessThan(22_000);
    expect(values[0]?.shareOfOthers).toBeCloseTo(0.25, 1);
  });
});

describe('the numbers of terms', () => {
  it('read back as they were packed', () => {
    fc.assert(
      fc.property(fc.uniqueArray(fc.integer({ min: 0, max: 2 ** 32 })), (ids) => {
        expect(unpackTermIds(packTermIds(ids))).toEqual([...ids].sort((a, b) => a - b));
      }),
    );
  });

  it('numbers keys like a map does', () => {
    fc.assert(
      fc.property(fc.array(fc.uint8Array({ minLength: 16, maxLength: 16 }), { maxLength: 50 }), fc.nat(5000), (keys, more) => {
        const numbering = new Numbering();
        const map = new Map<string, number>();
        for (const key of [...keys, ...Array.from({ length: more }, (_, at) => person(at)), ...keys]) {
          const name = key.join();
          if (!map.has(name)) map.set(name, map.size);
          expect(numbering.numberOf(key)).toBe(map.get(name));
        }
      }),
      { numRuns: 20 },
    );
  });
});
