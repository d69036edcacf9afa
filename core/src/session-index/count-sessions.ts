import type { Verdict } from '../stability/comparison.ts';
import { type BadEnds, onlyCrashes } from '../stability/figures.ts';
import { of95Percent } from '../stability/normal-quantile.ts';
import { type Axis, axisOf, oneValue } from './axis.ts';
import { countCells } from './counted-cells.ts';
import type { Day, SessionField } from './person-day.ts';
import { mark, type SessionIndex, sampleShare } from './session-index.ts';
import { type DaySpan, type Sampling, samplingAtOnce } from './session-rows.ts';
import { type SessionScope, sessionTests } from './session-test.ts';
import type { Counts, Sums } from './tally.ts';
import { tallyRows, tallyTrouble } from './tally-rows.ts';

/** Sessions by the values of two fields, with the sums of both: persons are counted anew for each, since they do not add up. */
export interface SessionMatrix {
  readonly sampling: Sampling;
  readonly rows: readonly string[];
  readonly columns: readonly string[];
  /** Row by row. */
  readonly cells: readonly Counts[];
  readonly ofRows: readonly Counts[];
  readonly ofColumns: readonly Counts[];
  readonly total: Counts;
  /** How each cell does against all others together, such that of all that are told better or worse one in twenty is so by chance. */
  readonly verdicts: readonly Verdict[];
}

/** The relative error (95 %) of a number of persons that was counted in the sample: binomial, each person being in it or not. */
export const sampleError = (persons: number): number =>
  persons === 0 ? 0 : (of95Percent * Math.sqrt((1 - 1 / sampleShare) * sampleShare)) / Math.sqrt(persons);

/** Counts sessions and persons of a scope by the values of up to two fields. */
export function countMatrix(
  index: SessionIndex,
  scope: SessionScope,
  span: DaySpan,
  down: SessionField | null,
  across: SessionField | null,
  { sampling = 'everybody', most = 40, badEnds = onlyCrashes }: { sampling?: Sampling; most?: number; badEnds?: BadEnds } = {},
): SessionMatrix {
  index.ready();
  const [rows, columns] = [axisOf(index, down, most), axisOf(index, across, most)];
  const counted = countCells(index, { scope, span }, { down: rows, across: columns }, { sampling, badEnds });
  return withoutEmpty({
    sampling,
    rows: rows.values,
    columns: columns.values,
    cells: counted.all('cells'),
    ofRows: counted.all('down'),
    ofColumns: counted.all('across'),
    total: counted.of('total', 0),
    verdicts: counted.verdictsOfCells(),
  });
}

/** Drops the rows and columns that no session of the scope is in. */
function withoutEmpty({ sampling, rows, columns, cells, ofRows, ofColumns, total, verdicts }: SessionMatrix): SessionMatrix {
  const kept = (sums: readonly Counts[]) => sums.flatMap((sum, place) => (sum.sessions > 0 ? [place] : []));
  const [keptRows, keptColumns] = [kept(ofRows), kept(ofColumns)];
  return {
    sampling,
    rows: keptRows.map((row) => rows[row] as string),
    columns: keptColumns.map((column) => columns[column] as string),
    cells: keptRows.flatMap((row) => keptColumns.map((column) => cells[row * columns.length + column] as Counts)),
    verdicts: keptRows.flatMap((row) => keptColumns.map((column) => verdicts[row * columns.length + column] as Verdict)),
    ofRows: keptRows.map((row) => ofRows[row] as Counts),
    ofColumns: keptColumns.map((column) => ofColumns[column] as Counts),
    total,
  };
}

/** The course of sessions over days, by the values of a field. */
export interface DailySessions {
  readonly sampling: Sampling;
  readonly first: Day;
  readonly values: readonly string[];
  /** For each value, each day from the first. */
  readonly days: readonly (readonly Counts[])[];
  /** For each value, all days together: persons do not add up. */
  readonly sums: readonly Counts[];
  /** For each day, all values together. */
  readonly ofDays: readonly Counts[];
  readonly total: Counts;
}

/** The days of a span. */
const dayAxisOf = (index: SessionIndex, { first, last }: DaySpan): Axis => ({
  values: Array.from({ length: last - first + 1 }, (_, day) => String(first + day)),
  codes: index.column('dayOf'),
  placeOf: Int32Array.from({ length: last + 1 }, (_, day) => Math.max(0, day - first)),
});

/** Counts sessions and persons of each day by the values of a field. */
export function countDailySessions(
  index: SessionIndex,
  scope: SessionScope,
  span: DaySpan,
  split: SessionField | null,
  { sampling = 'everybody', most = 12, badEnds = onlyCrashes }: { sampling?: Sampling; most?: number; badEnds?: BadEnds } = {},
): DailySessions {
  index.ready();
  const axis = axisOf(index, split, most);
  const dayAxis = dayAxisOf(index, span);
  const days = dayAxis.values.length;
  const counted = countCells(index, { scope, span }, { down: axis, across: dayAxis }, { sampling, badEnds });
  const courses = axis.values.map((value, place) => ({
    value,
    sum: counted.of('down', place),
    days: Array.from({ length: days }, (_, day) => counted.of('cells', place * days + day)),
  }));
  const kept = courses.filter((course) => course.days.some((day) => day.sessions > 0));
  return {
    sampling,
    first: span.first,
    values: kept.map((one) => one.value),
    days: kept.map((one) => one.days),
    sums: kept.map((one) => one.sum),
    ofDays: counted.all('across'),
    total: counted.of('total', 0),
  };
}

/** What ended badly in sessions that only reports tell of: it is in no other figure, since nobody knows how many went well. */
export function countInferred(index: SessionIndex, scope: SessionScope, span: DaySpan): Pick<Counts, 'crashed' | 'hung' | 'killed'> {
  index.ready();
  const tests = sessionTests(index, scope);
  const check = { ...tests, marksWanted: tests.marksWanted | mark.inferred, ...span };
  const { crashed, hung, killed } = tallyTrouble(index, check, oneValue(index)).of(0);
  return { crashed, hung, killed };
}

/** Sessions and persons of each day by version, without how surely rates follow from them. */
export interface VersionDays {
  readonly versions: readonly string[];
  /** For each version, each day from the first. */
  readonly sessions: readonly (readonly number[])[];
  readonly persons: readonly (readonly number[])[];
}

export function countVersionDays(index: SessionIndex, scope: SessionScope, span: DaySpan, most: number): VersionDays {
  index.ready();
  const axes = { down: axisOf(index, { field: 'version', key: '' }, most), across: dayAxisOf(index, span) };
  const days = axes.across.values.length;
  const { cells } = tallyRows(index, { ...sessionTests(index, scope), ...span }, axes, samplingAtOnce(index));
  const versions = axes.down.values.map((version, place) => ({
    version,
    days: Array.from({ length: days }, (_, day) => cells.of(place * days + day)),
  }));
  const kept = versions.filter(({ days }) => days.some((day) => day.sessions > 0));
  return {
    versions: kept.map(({ version }) => version),
    sessions: kept.map(({ days }) => days.map((day) => day.sessions)),
    persons: kept.map(({ days }) => days.map((day) => day.persons)),
  };
}

/** The sessions of each version. */
export function countSessionsOfVersions(
  index: SessionIndex,
  scope: SessionScope,
  span: DaySpan,
  most: number,
): { readonly version: string; readonly sessions: number }[] {
  index.ready();
  const axes = { down: axisOf(index, { field: 'version', key: '' }, most), across: oneValue(index) };
  const { cells } = tallyRows(index, { ...sessionTests(index, scope), ...span }, axes, samplingAtOnce(index));
  return axes.down.values.map((version, place) => ({ version, sessions: cells.of(place).sessions })).filter(({ sessions }) => sessions > 0);
}

/** The sums of a scope, without how surely rates follow from them. */
export function countSums(index: SessionIndex, scope: SessionScope, span: DaySpan): Sums {
  index.ready();
  const axes = { down: oneValue(index), across: oneValue(index) };
  return tallyRows(index, { ...sessionTests(index, scope), ...span }, axes, samplingAtOnce(index)).total.of(0);
}
