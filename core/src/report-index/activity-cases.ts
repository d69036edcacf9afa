import { hasFailed, requestName } from '../report/session-activity.ts';
import type { Scope } from '../scope/scope.ts';
import { verdictsOfMany } from '../stability/discoveries.ts';
import { sidesOfParts } from '../stability/sides.ts';
import { PeopleCounter } from './people-count.ts';
import { fieldKey, none, type ReportIndex } from './report-index.ts';
import type { Term } from './report-terms.ts';
import { filterRows, scopeTest, windowOf } from './rows-in-scope.ts';

/** Reports of a scope that came from one screen of the app. */
export interface ScreenReports {
  readonly screen: string;
  /** Each with its weight, here and below. */
  readonly reports: number;
  readonly people: number;
  /** In no particular order. */
  readonly versions: readonly { readonly version: string; readonly reports: number }[];
  /** Those with most reports first. */
  readonly cases: readonly { readonly caseId: number; readonly reports: number }[];
}

const mostCases = 5;

/** Counts the reports of a scope by the screen that was shown last; those with most reports first, and all there are beside, with those kept. */
export function reportsByScreen(
  index: ReportIndex,
  scope: Scope,
  now: number,
): { readonly reports: number; readonly kept: number; readonly screens: readonly ScreenReports[] } {
  const { rows, column: isIn } = rowsAsColumn(index, scope, now);
  const people = new PeopleCounter(index);
  const found: ScreenReports[] = [];
  for (const term of index.termsOf.get(fieldKey('screen', '')) ?? []) {
    const versions = new Map<number, number>();
    const cases = new Map<number, number>();
    let [reports, different] = [0, 0];
    people.begin();
    for (const row of index.rowsOfTerm(term)) {
      if (isIn[row] === 0) continue;
      const weight = index.weightOf(row);
      reports += weight;
      different += people.meet(row);
      add(versions, index.versionOf.values[row] as number, weight);
      add(cases, index.caseOf.values[row] as number, weight);
    }
    if (reports === 0) continue;
    cases.delete(none);
    found.push({
      screen: (index.terms[term] as Term).value,
      reports: Math.round(reports),
      people: different,
      versions: [...versions].map(([version, count]) => ({ version: index.versions[version] as string, reports: Math.round(count) })),
      cases: [...cases]
        .sort(([, a], [, b]) => b - a)
        .slice(0, mostCases)
        .map(([of, count]) => ({ caseId: index.caseIds[of] as number, reports: Math.round(count) })),
    });
  }
  return {
    reports: Math.round(rows.reduce((sum, row) => sum + index.weightOf(row), 0)),
    kept: rows.length,
    screens: found.sort((a, b) => b.reports - a.reports),
  };
}

/** The cases of a scope that follow the failure of a request: told by the reports that are there, whatever they stand for. */
export interface FailureReports {
  /** `GET tiles.larkfield.example/tiles/{number}` */
  readonly request: string;
  /** Reports in whose trail it failed. */
  readonly reports: number;
  /** Cases whose reports tell of the failure more often than the others do, beyond chance; those with most such reports first. */
  readonly cases: readonly { readonly caseId: number; readonly reports: number; readonly ofCase: number }[];
}

const failedStep = /^request (\S+) ([^/\s]*)(\S*) (\d{1,3}|without answer)$/;

/** The request of a step in words (`wordStep`) that tells of its failure; null for every other step. */
function failedRequest(step: string): string | null {
  const [, method, host, path, status] = failedStep.exec(step) ?? [];
  if (method === undefined || host === undefined || path === undefined) return null;
  return hasFailed(status === 'without answer' ? null : Number(status)) ? requestName({ method, host, path }) : null;
}

/** Finds the requests that failed before reports of a scope, each with the cases that this is typical of: one in twenty of those by chance. */
export function casesAfterFailures(index: ReportIndex, scope: Scope, now: number): FailureReports[] {
  const { rows, column: isIn } = rowsAsColumn(index, scope, now);
  const termsOf = new Map<string, number[]>();
  for (const term of index.termsOf.get(fieldKey('trail', '')) ?? []) {
    const request = failedRequest((index.terms[term] as Term).value);
    if (request !== null) termsOf.set(request, [...(termsOf.get(request) ?? []), term]);
  }
  const reportsOfCases = new Map<number, number>();
  for (const row of rows) addOne(reportsOfCases, index.caseOf.values[row] as number);
  reportsOfCases.delete(none);
  const lastIn = new Int32Array(index.rows).fill(none);
  const found: Failure[] = [];
  for (const [request, terms] of termsOf) {
    const cases = new Map<number, number>();
    let reports = 0;
    for (const term of terms)
      for (const row of index.rowsOfTerm(term)) {
        // It may have failed in several ways before one report.
        if (isIn[row] === 0 || lastIn[row] === found.length) continue;
        lastIn[row] = found.length;
        reports++;
        addOne(cases, index.caseOf.values[row] as number);
      }
    cases.delete(none);
    const counted = [...cases].map(([of, hits]) => ({ of, hits, count: reportsOfCases.get(of) as number }));
    found.push({ request, reports, cases: counted });
  }
  return typicalOf(index, found, rows.length).sort((a, b) => b.reports - a.reports);
}

/** A request with the cases before whose reports it failed: how many of all their reports. */
interface Failure {
  readonly request: string;
  readonly reports: number;
  readonly cases: readonly { readonly of: number; readonly hits: number; readonly count: number }[];
}

/** Keeps the cases that a failure is typical of, of all that were looked at together. */
function typicalOf(index: ReportIndex, failures: readonly Failure[], rows: number): FailureReports[] {
  const sides = failures.flatMap(({ reports, cases }) =>
    cases.map(({ hits, count }) => sidesOfParts({ hits, count }, { hits: reports - hits, count: rows - count })),
  );
  const verdicts = verdictsOfMany(sides);
  let at = 0;
  return failures.flatMap(({ request, reports, cases }) => {
    const typical = cases.filter(({ count }) => verdicts[at++] === 'worse' || count === rows);
    const told = typical.sort((a, b) => b.hits - a.hits).slice(0, mostCases);
    const named = told.map(({ of, hits, count }) => ({ caseId: index.caseIds[of] as number, reports: hits, ofCase: count }));
    return reports === 0 ? [] : [{ request, reports, cases: named }];
  });
}

/** The rows of a scope, and 1 for each of them in a column of all. */
function rowsAsColumn(index: ReportIndex, scope: Scope, now: number): { readonly rows: Int32Array; readonly column: Uint8Array } {
  const rows = filterRows(index, scopeTest(index, scope), windowOf(scope, now));
  const column = new Uint8Array(index.rows);
  for (const row of rows) column[row] = 1;
  return { rows, column };
}

const add = (counts: Map<number, number>, of: number, weight: number) => void counts.set(of, (counts.get(of) ?? 0) + weight);
const addOne = (counts: Map<number, number>, of: number) => add(counts, of, 1);
