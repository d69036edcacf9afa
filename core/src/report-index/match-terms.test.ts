import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type ReportKind, reportKinds } from '../report/report-kinds.ts';
import type { Filter, Restriction } from '../scope/filter/filter.ts';
import { parseFilter } from '../scope/filter/parse-filter.ts';
import { matchFilter, restrictionTest } from './match-terms.ts';
import { type IndexedReport, ReportIndex } from './report-index.ts';
import type { Term } from './report-terms.ts';

const parse = (text: string): Filter => {
  const parsed = parseFilter(text);
  if (!parsed.ok || parsed.value === null) throw new Error(`${text} is no filter`);
  return parsed.value;
};
const term = (field: Term['field'], value: string, key = ''): Term => ({ field, key, value });

describe('a value', () => {
  it.each<[filter: string, fulfils: Term[], fulfilsNot: Term[]]>([
    ['country = NO', [term('country', 'NO')], [term('country', 'no'), term('country', 'NOR')]],
    ['country:NO', [term('country', 'NO')], [term('country', 'NOR')]],
    ['country:*', [term('country', 'NO'), term('country', 'DE')], []],
    ['device.model = "Tarn*"', [term('device.model', 'Tarn Go 3'), term('device.model', 'Tarn')], [term('device.model', 'Old Tarn')]],
    ['device.model = "*Go 3"', [term('device.model', 'Tarn Go 3')], [term('device.model', 'Tarn Go 3a')]],
    ['device.model = "*Go*"', [term('device.model', 'Tarn Go 3'), term('device.model', 'Go')], [term('device.model', 'Brill')]],
    ['version = 4.2', [term('version', '4.2')], [term('version', '4.20')]],
    ['version < 4.10.0', [term('version', '4.9'), term('version', '4.10.0-beta.1')], [term('version', '4.10.0'), term('version', '5')]],
    ['version <= 4.10.0', [term('version', '4.10.0'), term('version', '4.9')], [term('version', '4.10.1')]],
    ['version > 4.9', [term('version', '4.10.0')], [term('version', '4.9'), term('version', '4.8.99')]],
    ['os.version >= 14', [term('os.version', '14'), term('os.version', '15.1')], [term('os.version', '9')]],
    ['build > 99', [term('build', '100'), term('build', '99.5')], [term('build', '99'), term('build', 'nightly')]],
    ['build = 430', [term('build', '430'), term('build', '430.0')], [term('build', '4300')]],
    [
      'attributes.depth >= 7.5',
      [term('attributes', '12', 'depth'), term('attributes', '7.5', 'depth')],
      [term('attributes', '7', 'depth'), term('attributes', 'deep', 'depth')],
    ],
    ['attributes.depth = 7.50', [term('attributes', '7.5', 'depth')], [term('attributes', '7.51', 'depth')]],
    [
      'attributes.depth <= -1',
      [term('attributes', '-1', 'depth'), term('attributes', '-2e3', 'depth')],
      [term('attributes', '0', 'depth'), term('attributes', '', 'depth')],
    ],
    ['flags:night-map', [term('flags', 'on', 'night-map'), term('flags', 'off', 'night-map')], [term('flags', 'night-map', 'other')]],
    ['flags.night-map = on', [term('flags', 'on', 'night-map')], [term('flags', 'off', 'night-map')]],
    ['type:nullpointer', [term('type', 'java.lang.NullPointerException')], [term('type', 'IOException')]],
    ['type = IOException', [term('type', 'IOException')], [term('type', 'java.io.IOException')]],
    ['message:"tile 4711"', [term('message', 'no tile <number> here')], [term('message', 'no nest <number>')]],
    ['message = "no tile 4711"', [term('message', 'no tile <number>')], [term('message', 'no tile <number> here')]],
    ['stack:tilefor', [term('stack', 'NightMap.tileFor\nTileCache.get')], [term('stack', 'TileCache.get')]],
    ['stack = TileCache.get', [term('stack', 'NightMap.tileFor\nTileCache.get')], [term('stack', 'TileCache.getAll')]],
    ['stack = "*.get"', [term('stack', 'NightMap.tileFor\nTileCache.get')], [term('stack', 'TileCache.getAll\nother')]],
    ['trail:offline', [term('trail', 'tap Offline')], [term('trail', 'screen map')]],
  ])('of "%s"', (filter, fulfils, fulfilsNot) => {
    const test = restrictionTest(parse(filter) as Restriction);
    expect(fulfils.filter((one) => !test(one))).toEqual([]);
    expect(fulfilsNot.filter(test)).toEqual([]);
  });
});

describe('a filter over reports', () => {
  const terms = [
    term('country', 'NO'),
    term('country', 'DE'),
    term('flags', 'on', 'night-map'),
    term('flags', 'off', 'night-map'),
    term('message', 'no tile <number>'),
    term('stack', 'NightMap.tileFor\nTileCache.get'),
    term('trail', 'tap Offline'),
    term('attributes', 'Offline maps', 'layer'),
  ];
  const plain: IndexedReport = {
    id: 1,
    at: Date.UTC(2026, 4, 20),
    kind: 'crash',
    version: '4.2.0',
    excluded: false,
    waiting: false,
    caseId: 100,
    person: null,
    weight: 1,
    terms: [],
  };
  const indexOf = (reports: readonly { kind: ReportKind; terms: readonly number[] }[]) => {
    const index = new ReportIndex();
    for (const [at, one] of terms.entries()) index.addTerm(at + 10, one);
    reports.forEach((report, at) => {
      index.put({ ...plain, id: at + 1, kind: report.kind, terms: report.terms.map((one) => one + 10) });
    });
    return index;
  };
  type Fits = (report: { kind: string; terms: readonly number[] }) => boolean;
  const leaves: readonly (readonly [text: string, fits: Fits])[] = [
    ['country = NO', ({ terms }) => terms.includes(0)],
    ['country != NO', ({ terms }) => !terms.includes(0)],
    ['country:*', ({ terms }) => terms.includes(0) || terms.includes(1)],
    ['flags:night-map', ({ terms }) => terms.includes(2) || terms.includes(3)],
    ['flags.night-map = on', ({ terms }) => terms.includes(2)],
    ['kind = hang', ({ kind }) => kind === 'hang'],
    ['kind != hang', ({ kind }) => kind !== 'hang'],
    ['kind:*', () => true],
    ['offline', ({ terms }) => terms.includes(6) || terms.includes(7)],
    ['"no tile 12"', ({ terms }) => terms.includes(4)],
    ['tilefor', ({ terms }) => terms.includes(5)],
  ];
  interface Tree {
    readonly text: string;
    readonly fits: Fits;
  }
  const tree = (text: string, fits: Fits): Tree => ({ text, fits });
  const { any } = fc.letrec<{ any: Tree }>((tie) => ({
    any: fc.oneof(
      { maxDepth: 3 },
      fc.constantFrom(...leaves).map(([text, fits]) => tree(text, fits)),
      tie('any').map(({ text, fits }) => tree(`NOT (${text})`, (report) => !fits(report))),
      fc.tuple(tie('any'), tie('any')).map(([a, b]) => tree(`(${a.text}) AND (${b.text})`, (report) => a.fits(report) && b.fits(report))),
      fc.tuple(tie('any'), tie('any')).map(([a, b]) => tree(`(${a.text}) OR (${b.text})`, (report) => a.fits(report) || b.fits(report))),
    ),
  }));
  const anyReport = fc.record({ kind: fc.constantFrom(...reportKinds), terms: fc.uniqueArray(fc.nat(terms.length - 1)) });

  it('takes those that one would take who asks each of them, however its conditions lie within each other, and again when asked again', () => {
    fc.assert(
      fc.property(fc.array(anyReport, { maxLength: 25 }), fc.array(any, { minLength: 1, maxLength: 12 }), (reports, trees) => {
        const index = indexOf(reports);
        for (const { text, fits } of [...trees, ...trees])
          expect([...matchFilter(index, parse(text))], text).toEqual(reports.map((report) => (fits(report) ? 1 : 0)));
      }),
    );
  });

  it('is asked anew when reports have come', () => {
    const index = indexOf([{ kind: 'crash', terms: [0] }]);
    expect([...matchFilter(index, parse('country = NO'))]).toEqual([1]);
    index.put({ ...plain, id: 9, terms: [10] });
    expect([...matchFilter(index, parse('country = NO'))]).toEqual([1, 1]);
  });
});
