import { describe, expect, it } from 'vitest';
import { type Scope, wholeScope } from '../scope/scope.ts';
import { casesAfterFailures, reportsByScreen } from './activity-cases.ts';
import { ReportIndex } from './report-index.ts';
import type { Term } from './report-terms.ts';

const now = Date.UTC(2026, 4, 20, 12, 30);
const crashes: Scope = { ...wholeScope, kinds: ['crash'] };

interface OneReport {
  readonly caseId: number | null;
  readonly version?: string;
  readonly person?: number;
  readonly kind?: 'crash' | 'hang';
  readonly terms: readonly Term[];
}

function indexOf(reports: readonly OneReport[]): ReportIndex {
  const index = new ReportIndex();
  const ids = new Map<string, number>();
  for (const [at, { caseId, version = '1', person, kind = 'crash', terms }] of reports.entries()) {
    const own = terms.map((term) => {
      const name = JSON.stringify(term);
      const id = ids.get(name) ?? ids.size + 1;
      ids.set(name, id);
      index.addTerm(id, term);
      return id;
    });
    const key = person === undefined ? null : Uint8Array.from({ length: 16 }, () => person);
    index.put({ id: at + 1, at: now - at, kind, version, excluded: false, waiting: false, caseId, person: key, weight: 1, terms: own });
  }
  return index;
}

const screen = (value: string): Term => ({ field: 'screen', key: '', value });
const step = (value: string): Term => ({ field: 'trail', key: '', value });
const times = (count: number, report: OneReport) => Array.from({ length: count }, () => report);

describe('reports by the screen they came from', () => {
  const index = indexOf([
    { caseId: 7, person: 1, version: '4.2.0', terms: [screen('map')] },
    { caseId: 7, person: 1, version: '4.3.0', terms: [screen('map')] },
    { caseId: 8, person: 2, version: '4.3.0', terms: [screen('map')] },
    { caseId: 8, person: 2, kind: 'hang', terms: [screen('map')] },
    { caseId: null, person: 3, version: '4.3.0', terms: [screen('song')] },
    { caseId: 9, terms: [] },
  ]);

  it('are counted with people, versions and cases, in the scope alone', () => {
    const { reports, screens } = reportsByScreen(index, crashes, now);
    expect(reports).toBe(5);
    expect(screens).toEqual([
      {
        screen: 'map',
        reports: 3,
        people: 2,
        versions: [
          { version: '4.2.0', reports: 1 },
          { version: '4.3.0', reports: 2 },
        ],
        cases: [
          { caseId: 7, reports: 2 },
          { caseId: 8, reports: 1 },
        ],
      },
      { screen: 'song', reports: 1, people: 1, versions: [{ version: '4.3.0', reports: 1 }], cases: [] },
    ]);
  });

  it('follow what becomes of them', () => {
    index.remove(5);
    expect(reportsByScreen(index, crashes, now).screens.map((one) => one.screen)).toEqual(['map']);
  });
});

describe('cases after the failure of a request', () => {
  const failed = step('request GET tiles.larkfield.example/t/7 504');
  const alsoFailed = step('request GET tiles.larkfield.example/t/12 without answer');
  const fine = step('request GET tiles.larkfield.example/t/7 200');

  it('are those whose reports tell of it more often than the others', () => {
    const index = indexOf([
      ...times(18, { caseId: 1, terms: [failed, alsoFailed] }),
      ...times(2, { caseId: 1, terms: [fine] }),
      // Everybody has a failure now and then.
      ...times(4, { caseId: 2, terms: [alsoFailed] }),
      ...times(36, { caseId: 2, terms: [fine] }),
      ...times(1, { caseId: 3, terms: [failed] }),
    ]);
    expect(casesAfterFailures(index, crashes, now)).toEqual([
      { request: 'GET tiles.larkfield.example/t/{number}', reports: 23, cases: [{ caseId: 1, reports: 18, ofCase: 20 }] },
    ]);
  });

  it('are none where requests went well, or the steps are no requests', () => {
    expect(
      casesAfterFailures(indexOf(times(9, { caseId: 1, terms: [fine, step('tap request 504'), step('request')] })), crashes, now),
    ).toEqual([]);
  });
});
