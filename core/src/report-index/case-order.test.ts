import fc from 'fast-check';
import { expect, it } from 'vitest';
import { reportKinds } from '../report/report-kinds.ts';
import { defaultScope, type Scope, wholeScope } from '../scope/scope.ts';
import { historiesOf } from './case-history.ts';
import { countCase, countCases } from './count-cases.ts';
import { type IndexedReport, ReportIndex } from './report-index.ts';
import { windowOf } from './rows-in-scope.ts';

const now = Date.UTC(2026, 4, 20, 12);
const dayMs = 86_400_000;
const versions = ['4.1.0', '4.2.0', '4.10.0'];

/** A report that follows from a number alone. */
function reportOf(id: number, turn: number): IndexedReport {
  const mixed = Math.imul(id * 31 + turn * 7_919, 0x9e37_79b1) >>> 0;
  const person = new Uint8Array(16);
  person[0] = mixed % 97;
  person[1] = 1;
  return {
    id,
    at: now - (mixed % (40 * dayMs)),
    kind: reportKinds[mixed % reportKinds.length] ?? 'crash',
    version: versions[(mixed >>> 3) % versions.length] as string,
    excluded: mixed % 11 === 0,
    waiting: mixed % 13 === 0,
    caseId: mixed % 17 === 0 ? null : 100 + (mixed % (9 + turn)),
    person: mixed % 5 === 0 ? null : person,
    // The first reports of all stand for themselves.
    weight: turn > 0 && mixed % 3 === 0 ? 10 : 1,
    terms: [],
  };
}

const scopes: readonly Scope[] = [
  wholeScope,
  { ...defaultScope, days: 14 },
  { ...defaultScope, days: 7, kinds: ['error', 'hang'], versions: { match: 'from', version: '4.2.0' }, builds: 'any' },
];

/** The counts of a scope by looking at every report. */
function byLooking(reports: Iterable<IndexedReport>, scope: Scope) {
  const { from } = windowOf(scope, now);
  const isWanted = ({ kind, version, excluded }: IndexedReport) =>
    scope.kinds.includes(kind) &&
    (scope.builds === 'any' || excluded === (scope.builds === 'excluded')) &&
    (scope.versions.match === 'any' || versions.indexOf(version) >= 1);
  const counts = new Map<number, { reports: number; people: Set<number> }>();
  const everybody = new Set<number>();
  let waiting = 0;
  for (const one of reports) {
    if (!isWanted(one)) continue;
    const own = one.caseId === null ? null : (counts.get(one.caseId) ?? { reports: 0, people: new Set<number>() });
    if (own && one.caseId !== null) counts.set(one.caseId, own);
    if (one.at < from) continue;
    if (own) own.reports += one.weight;
    if (one.waiting) waiting++;
    if (one.person === null) continue;
    everybody.add(one.person[0] as number);
    own?.people.add(one.person[0] as number);
  }
  const cases = [...counts].filter(([, one]) => one.reports > 0).map(([id, one]) => [id, one.reports, one.people.size]);
  return { cases: cases.sort(([a = 0], [b = 0]) => a - b), people: everybody.size, waiting };
}

function agree(index: ReportIndex, reports: ReadonlyMap<number, IndexedReport>): void {
  for (const scope of scopes) {
    const { cases, people, waiting } = countCases(index, scope, now);
    const found = cases.map((one) => [one.caseId, one.reports, one.people]).sort(([a = 0], [b = 0]) => a - b);
    expect({ cases: found, people, waiting }).toEqual(byLooking(reports.values(), scope));
    const courses = historiesOf(
      index,
      cases.map((one) => one.caseId),
      scope,
      now,
    );
    for (const one of cases) {
      expect(countCase(index, one.caseId, scope, now)).toEqual(one);
      expect(courses.get(one.caseId)?.trend.reduce((sum, step) => sum + step, 0)).toBe(one.reports);
    }
  }
}

it('counts the same whether rows are in order or have changed since, and puts them in order again', () => {
  const index = new ReportIndex();
  const reports = new Map<number, IndexedReport>();
  const put = (id: number, turn: number) => {
    const report = reportOf(id, turn);
    reports.set(id, report);
    index.put(report);
  };
  for (let id = 1; id <= 3_000; id++) put(id, 0);
  agree(index, reports);
  const changed = fc.array(fc.record({ id: fc.integer({ min: 1, max: 3_600 }), turn: fc.nat(6), goes: fc.boolean() }), { maxLength: 400 });
  fc.assert(
    fc.property(changed, (changes) => {
      for (const { id, turn, goes } of changes) {
        if (!goes) put(id, turn);
        else if (reports.delete(id)) index.remove(id);
      }
      agree(index, reports);
    }),
    { numRuns: 25 },
  );
});
