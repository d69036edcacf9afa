import type { Scope } from '../scope/scope.ts';
import type { ReportIndex } from './report-index.ts';
import { filterRows, scopeTest, windowOf } from './rows-in-scope.ts';

/** The reports of a case in a scope, newest first, and which of them to look at first. */
export interface CaseReports {
  readonly count: number;
  /** Store number of the report at the position that was asked for, or at the last one; null when there is none. */
  readonly reportRow: number | null;
  readonly position: number;
  /** Position of the report that has most in common with the others. */
  readonly typical: number;
  /** Position of the report that tells the most. */
  readonly complete: number;
}

/** The rows of a case in a scope, in the order they came. */
export const caseRows = (index: ReportIndex, caseId: number, scope: Scope, now: number): Int32Array =>
  filterRows(index, scopeTest(index, scope), windowOf(scope, now), index.rowsOfCase(index.findCase(caseId)));

/** Store numbers of the newest reports of a case in a scope. */
export function newestReports(index: ReportIndex, caseId: number, scope: Scope, now: number, limit: number): number[] {
  const rows = newestFirst(index, caseRows(index, caseId, scope, now));
  return Array.from(rows.subarray(0, limit), (row) => index.ids.values[row] as number);
}

/** The place of a report among those of its case in a scope, 0 being the newest; null when it is not among them. */
export function positionOf(index: ReportIndex, caseId: number, scope: Scope, now: number, reportRow: number): number | null {
  const at = newestReports(index, caseId, scope, now, index.rows).indexOf(reportRow);
  return at < 0 ? null : at;
}

/** Reports that are compared for the typical one; the newest, since a case may have a million. */
const compared = 5_000;

/** Equal times are told apart by the order of arrival. */
function newestFirst(index: ReportIndex, rows: Int32Array): Int32Array {
  const [at, ids] = [index.at.values, index.ids.values];
  return rows.sort((a, b) => (at[b] as number) - (at[a] as number) || (ids[b] as number) - (ids[a] as number));
}

/** Finds the report at a position, 0 being the newest. */
export function caseReports(index: ReportIndex, caseId: number, scope: Scope, now: number, position: number): CaseReports {
  const rows = newestFirst(index, caseRows(index, caseId, scope, now));
  if (rows.length === 0) return { count: 0, reportRow: null, position: 0, typical: 0, complete: 0 };
  const place = Math.min(position, rows.length - 1);
  return {
    count: rows.length,
    reportRow: index.ids.values[rows[place] as number] as number,
    position: place,
    ...choose(index, rows.subarray(0, compared)),
  };
}

function choose(index: ReportIndex, rows: Int32Array): { typical: number; complete: number } {
  const shares = new Float64Array(index.terms.length);
  for (const row of rows) for (const term of index.termsOfRow(row)) shares[term] = (shares[term] as number) + 1;
  let typical = { place: 0, score: Number.NEGATIVE_INFINITY };
  let complete = { place: 0, terms: 0 };
  rows.forEach((row, place) => {
    const terms = index.termsOfRow(row);
    // What most have counts for it, what few have against it, so that a report with everything is not typical.
    const score = terms.reduce((sum, term) => sum + (shares[term] as number) / rows.length - 0.5, 0);
    if (score > typical.score) typical = { place, score };
    if (terms.length > complete.terms) complete = { place, terms: terms.length };
  });
  return { typical: typical.place, complete: complete.place };
}
