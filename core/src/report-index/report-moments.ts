import { dayMs } from '../durations.ts';
import type { Scope } from '../scope/scope.ts';
import { none, type ReportIndex } from './report-index.ts';
import { filterRows, scopeTest, windowOf } from './rows-in-scope.ts';

/** When something happened, in milliseconds since 1970, and of which case, by its id. */
export interface ReportMoment {
  readonly at: number;
  readonly caseId: number;
}

/** The rows of a scope that are in a case, in the order of their times. */
function rowsInOrder(index: ReportIndex, scope: Scope, now: number): Int32Array {
  const caseOf = index.caseOf.values;
  const at = index.at.values;
  return filterRows(index, scopeTest(index, scope), windowOf(scope, now))
    .filter((row) => caseOf[row] !== none)
    .sort((a, b) => (at[a] as number) - (at[b] as number));
}

/** The reports of a scope, the newest `most` of them in the order of their times, and how many there are. */
export function reportMoments(
  index: ReportIndex,
  scope: Scope,
  now: number,
  most: number,
): { readonly moments: readonly ReportMoment[]; readonly all: number } {
  const rows = rowsInOrder(index, scope, now);
  return {
    moments: [...rows.subarray(Math.max(0, rows.length - most))].map((row) => ({
      at: index.at.values[row] as number,
      caseId: index.caseIds[index.caseOf.values[row] as number] as number,
    })),
    all: rows.length,
  };
}

/**
 * When the reports of a scope, or the people who met them, came to be so many within `days` days of UTC, the running one among them: each
 * time that they had been fewer for a day.
 */
export function timesOfBound(
  index: ReportIndex,
  scope: Scope,
  now: number,
  { of, atLeast, days }: { readonly of: 'reports' | 'people'; readonly atLeast: number; readonly days: number },
): number[] {
  const rows = rowsInOrder(index, scope, now);
  const at = index.at.values;
  const spanned = Math.max(days, 2);
  const found: number[] = [];
  let lastPassed = Number.NEGATIVE_INFINITY;
  let first = 0;
  const today = Math.floor(now / dayMs);
  const from = scope.days === null ? today : Math.floor(windowOf(scope, now).from / dayMs) + spanned - 1;
  for (let day = from; day <= today; day++) {
    const [begin, end] = [(day - spanned + 1) * dayMs, (day + 1) * dayMs];
    while (first < rows.length && (at[rows[first] as number] as number) < begin) first++;
    const people = new Set<number>();
    let count = 0;
    for (let place = first; place < rows.length && (at[rows[place] as number] as number) < end; place++) {
      const row = rows[place] as number;
      people.add(index.personOf.values[row] as number);
      count += index.weightOf(row);
      if ((of === 'people' ? people.size : count) < atLeast) continue;
      const passed = Math.max(at[row] as number, day * dayMs);
      if (passed - lastPassed > 2 * dayMs) found.push(passed);
      lastPassed = end - 1;
      break;
    }
  }
  return found;
}
