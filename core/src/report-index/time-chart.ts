import { dayMs, hourMs } from '../durations.ts';
import type { FieldName } from '../fields/fields.ts';
import type { Scope } from '../scope/scope.ts';
import { caseRows } from './case-reports.ts';
import { fieldKey, none, type ReportIndex } from './report-index.ts';
import type { Term } from './report-terms.ts';
import { windowOf } from './rows-in-scope.ts';

/** Reports of a case over time, each with its weight, each step split by the values of a field. */
export interface TimeChart {
  /** Milliseconds since 1970, in UTC. */
  readonly from: number;
  readonly stepMs: number;
  readonly series: readonly { readonly value: string; readonly reports: readonly number[] }[];
}

const mostSteps = 120;
const mostSeries = 6;

/** What the series of everything without one of the commonest values is called. */
export const otherValues = '';

/** Steps are hours up to three days, days up to four months, and weeks beyond. */
export function timeChart(
  index: ReportIndex,
  caseId: number,
  scope: Scope,
  now: number,
  split: { field: FieldName; key: string },
): TimeChart {
  const rows = caseRows(index, caseId, scope, now);
  const at = index.at.values;
  const first = rows.reduce((least, row) => Math.min(least, at[row] as number), now);
  const begin = scope.days === null ? first : windowOf(scope, now).from;
  const span = now - begin;
  const stepMs = span <= 3 * dayMs ? hourMs : span <= mostSteps * dayMs ? dayMs : 7 * dayMs;
  const from = Math.floor(begin / stepMs) * stepMs;
  const steps = Math.min(Math.max(1, Math.floor((now - from) / stepMs) + 1), 4 * mostSteps);

  const terms = index.termsOf.get(fieldKey(split.field, split.key)) ?? [];
  const placeOf = new Int32Array(index.terms.length).fill(none);
  terms.forEach((term, place) => {
    placeOf[term] = place;
  });
  const counts = terms.map(() => new Float64Array(steps));
  const others = new Float64Array(steps);
  for (const row of rows) {
    const step = Math.min(steps - 1, Math.max(0, Math.floor(((at[row] as number) - from) / stepMs)));
    // A report with several values is counted under the first, so that the columns add up to the reports.
    const term = index.termsOfRow(row).find((one) => placeOf[one] !== none);
    const column = term === undefined ? others : (counts[placeOf[term] as number] as Float64Array);
    column[step] = (column[step] as number) + index.weightOf(row);
  }
  const sum = (column: Float64Array) => column.reduce((total, one) => total + one, 0);
  const ranked = counts.map((column, place) => ({ column, place, total: sum(column) })).filter((one) => one.total > 0);
  ranked.sort((a, b) => b.total - a.total);
  for (const { column } of ranked.slice(mostSeries))
    for (let step = 0; step < steps; step++) others[step] = (others[step] as number) + (column[step] as number);
  const series = ranked
    .slice(0, mostSeries)
    .map(({ column, place }) => ({ value: (index.terms[terms[place] as number] as Term).value, reports: Array.from(column, Math.round) }));
  return { from, stepMs, series: sum(others) > 0 ? [...series, { value: otherValues, reports: Array.from(others, Math.round) }] : series };
}
