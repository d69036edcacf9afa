import type { Split } from '../cases/desk-settings.ts';
import { dayMs } from '../durations.ts';
import { meaningOf } from '../fields/fields.ts';
import { reportKinds } from '../report/report-kinds.ts';
import { fieldKey, none, type ReportIndex } from '../report-index/report-index.ts';
import type { Term } from '../report-index/report-terms.ts';
import { filterRows, scopeTest } from '../report-index/rows-in-scope.ts';
import { isNumber } from '../scope/filter/parse-filter.ts';
import type { Scope } from '../scope/scope.ts';
import { notToldValue, otherValues } from '../session-index/axis.ts';
import { dayOf } from '../session-index/person-day.ts';
import type { DaySpan } from '../session-index/session-rows.ts';
import { versionSortKey } from '../version/version-order.ts';
import { type Asked, type AskedSplit, type Counted, type Figure, placesOf, productOf } from './asked.ts';
import type { CountOf, Statistic } from './measures.ts';
import { type Histogram, histogramOf, Numbers, within } from './number-cells.ts';
import { ageOf, placeOfHour, placesOfDays, type Steps } from './steps.ts';

export interface ReportsQuestion {
  readonly splits: readonly Split[];
  readonly span: DaySpan;
  /** Whether reports from after the span belong to its last day: clocks of devices go ahead, and every screen counts them today. */
  readonly isOpen: boolean;
  readonly steps: Steps | null;
  /** How many values of a split are named. */
  readonly most: number;
  /** The values to name of each split, where something else is counted by the same; else those with most reports. */
  readonly values?: readonly (readonly string[] | null)[] | undefined;
}

/** Counts the reports of a scope, or the cases or people of them. */
export function askReports(index: ReportIndex, scope: Scope, question: ReportsQuestion, count: CountOf<'reports'>): Asked<Counted> {
  const entries = entriesOf(index, scope, question);
  const codes = { reports: null, cases: index.caseOf.values, 'affected people': index.personOf.values }[count];
  const { sizes, steps, rows, groupOf } = entries;
  const [groups, places] = [productOf(sizes), steps + 1];
  const own = (of: Int32Array | null, cells: number, cellOf: (entry: number) => number) =>
    countEntries(index, { rowOf: of ?? rows, codes, cells, cellOf });
  const { entryRows, entrySteps } = entries;
  const inCells = steps === 0 ? null : own(entryRows, groups * places, (at) => (groupOf[at] as number) * places + (entrySteps?.[at] ?? 0));
  const inGroups = own(entryRows, groups, (at) => groupOf[at] as number);
  const [total] = own(rows, 1, () => 0) as [Counted];
  return {
    splits: entries.splits,
    groups: Array.from({ length: groups }, (_, group) => group)
      .filter((group) => (inGroups[group] as Counted).count > 0)
      .map((group) => ({
        places: placesOf(group, sizes),
        sum: inGroups[group] as Counted,
        course: inCells === null ? null : inCells.slice(group * places, group * places + steps),
      })),
    total,
  };
}

/** A statistic of an attribute of the reports of a scope that is a number; and how its values are spread. */
export function askNumbersOfReports(
  index: ReportIndex,
  scope: Scope,
  question: ReportsQuestion,
  { statistic, attribute }: { readonly statistic: Statistic; readonly attribute: string },
): Asked<Figure> & { readonly histogram: Histogram | null } {
  const entries = entriesOf(index, scope, question);
  const { sizes, steps, rows, entryRows, groupOf, entrySteps } = entries;
  const numbersOf = numbersOfTerms(index, attribute);
  const cells = new Map<number, Numbers>();
  const groups = new Map<number, Numbers>();
  const total = new Numbers();
  const add = (to: Numbers, row: number) => {
    for (const term of index.termsOfRow(row)) {
      const value = numbersOf[term] as number;
      if (!Number.isNaN(value)) to.add(value, index.weightOf(row), index.personOf.values[row] as number);
    }
  };
  entryRows.forEach((row, at) => {
    const group = groupOf[at] as number;
    add(within(groups, group), row);
    if (steps > 0) add(within(cells, group * (steps + 1) + (entrySteps?.[at] ?? 0)), row);
  });
  for (const row of rows) add(total, row);
  const nothing = new Numbers();
  return {
    splits: entries.splits,
    groups: [...groups]
      .filter(([, numbers]) => numbers.count > 0)
      .map(([group, numbers]) => ({
        places: placesOf(group, sizes),
        sum: numbers.figure(statistic),
        course:
          steps === 0
            ? null
            : Array.from({ length: steps }, (_, step) => (cells.get(group * (steps + 1) + step) ?? nothing).figure(statistic)),
      })),
    total: total.figure(statistic),
    histogram: histogramOf(total),
  };
}

/** For each term the number it tells of an attribute; NaN for all others. */
function numbersOfTerms(index: ReportIndex, attribute: string): Float64Array {
  const numbers = new Float64Array(index.terms.length).fill(Number.NaN);
  for (const term of index.termsOf.get(fieldKey('attributes', attribute)) ?? []) {
    const { value } = index.terms[term] as Term;
    if (isNumber(value)) numbers[term] = Number(value);
  }
  return numbers;
}

/** The rows of a scope, and once for each group that a row is in: a report with several values of a field is in several. */
interface Entries {
  readonly splits: readonly AskedSplit[];
  readonly sizes: readonly number[];
  readonly rows: Int32Array;
  readonly entryRows: Int32Array;
  readonly groupOf: Int32Array;
  /** How many steps are told; 0 without steps. A report of no step stands one behind them. */
  readonly steps: number;
  readonly entrySteps: Int32Array | null;
}

function entriesOf(index: ReportIndex, scope: Scope, { splits, span, isOpen, steps, most, values }: ReportsQuestion): Entries {
  const window = {
    from: span.first === 0 ? Number.NEGATIVE_INFINITY : span.first * dayMs,
    to: isOpen ? Number.POSITIVE_INFINITY : (span.last + 1) * dayMs,
  };
  const rows = filterRows(index, scopeTest(index, scope), window);
  const found = splits.map((split, at) => valuesOfRows(index, rows, split, values?.[at] ?? most));
  const sizes = found.map((one) => one.values.length);
  const stepOf = steps === null ? null : stepper(index, steps);
  const entryRows: number[] | Int32Array = found.some((one) => one.more.size > 0) ? [] : rows;
  const groupOf: number[] = [];
  rows.forEach((row, at) => {
    const groups = groupsOfRow(found, sizes, row, at);
    for (const group of groups) groupOf.push(group);
    if (Array.isArray(entryRows)) for (const _ of groups) entryRows.push(row);
  });
  const rowOf = Int32Array.from(entryRows);
  return {
    splits: found.map(({ values, gathered }) => ({ values, gathered })),
    sizes,
    rows,
    entryRows: rowOf,
    groupOf: Int32Array.from(groupOf),
    steps: steps?.starts.length ?? 0,
    entrySteps: stepOf === null ? null : Int32Array.from(rowOf, stepOf),
  };
}

function groupsOfRow(found: readonly ValuesOfRows[], sizes: readonly number[], row: number, at: number): readonly number[] {
  let groups = [0];
  found.forEach(({ placeOf, more }, split) => {
    const places = more.get(row) ?? [placeOf[at] as number];
    const size = sizes[split] as number;
    groups =
      places.length === 1
        ? groups.map((group) => group * size + (places[0] as number))
        : groups.flatMap((group) => places.map((place) => group * size + place));
  });
  return groups;
}

interface ValuesOfRows extends AskedSplit {
  /** The place of each row's value, in the order of the rows. */
  readonly placeOf: Int32Array;
  /** All places of rows that have several. */
  readonly more: ReadonlyMap<number, readonly number[]>;
}

/** The values of a field that rows have, the given ones or those with most reports by name, and which of them each row has. */
function valuesOfRows(index: ReportIndex, rows: Int32Array, split: Split, wanted: readonly string[] | number): ValuesOfRows {
  const { names, namesOf } = split.field === 'kind' ? kindsOfRows(index) : termsOfRows(index, split);
  const weights = new Float64Array(names.length);
  for (const row of rows) for (const name of namesOf(row)) weights[name] = (weights[name] as number) + index.weightOf(row);
  const isVersion = meaningOf(split.field).order === 'version';
  const keyOf = (value: string) => (isVersion ? versionSortKey(value) : value);
  const groups = new Map<string, number[]>();
  names.forEach((value, name) => {
    if ((weights[name] as number) === 0) return;
    const known = groups.get(keyOf(value));
    if (known) known.push(name);
    else groups.set(keyOf(value), [name]);
  });
  const heaviest = (list: readonly number[]) => [...list].sort((a, b) => (weights[b] as number) - (weights[a] as number))[0] as number;
  const weightOf = (list: readonly number[]) => list.reduce((sum, name) => sum + (weights[name] as number), 0);
  const ranked = [...groups].sort(([a, own], [b, other]) =>
    isVersion ? (a < b ? 1 : -1) : weightOf(other) - weightOf(own) || (a < b ? -1 : 1),
  );
  const named = typeof wanted === 'number' ? ranked.slice(0, wanted).map(([key]) => key) : wanted.filter(isOwnValue).map(keyOf);
  if (typeof wanted === 'number' && isVersion) named.reverse();
  const placeOfKey = new Map(named.map((key, place) => [key, place + 1]));
  const left = ranked.filter(([key]) => !placeOfKey.has(key));
  const place = Int32Array.from(names, (value) => placeOfKey.get(keyOf(value)) ?? named.length + 1);
  const more = new Map<number, readonly number[]>();
  const placeOf = Int32Array.from(rows, (row) => {
    const own = namesOf(row);
    if (own.length > 1) {
      const places = [...new Set(Array.from(own, (name) => place[name] as number))];
      if (places.length > 1) more.set(row, places);
    }
    return own.length === 0 ? 0 : (place[own[0] as number] as number);
  });
  const shown =
    typeof wanted === 'number' ? named.map((key) => names[heaviest(groups.get(key) as number[])] as string) : wanted.filter(isOwnValue);
  const hasOthers = left.length > 0 || (typeof wanted !== 'number' && wanted.includes(otherValues));
  return { values: [notToldValue, ...shown, ...(hasOthers ? [otherValues] : [])], gathered: left.length, placeOf, more };
}

const isOwnValue = (value: string): boolean => value !== notToldValue && value !== otherValues;

interface NamesOfRows {
  readonly names: readonly string[];
  readonly namesOf: (row: number) => ArrayLike<number> & Iterable<number>;
}

const kindsOfRows = (index: ReportIndex): NamesOfRows => ({ names: reportKinds, namesOf: (row) => [index.kinds.values[row] as number] });

function termsOfRows(index: ReportIndex, { field, key }: Split): NamesOfRows {
  const terms = index.termsOf.get(fieldKey(field, key)) ?? [];
  const numberOf = new Int32Array(index.terms.length).fill(none);
  terms.forEach((term, number) => {
    numberOf[term] = number;
  });
  return {
    names: terms.map((term) => (index.terms[term] as Term).value),
    namesOf: (row) => {
      const found: number[] = [];
      for (const term of index.termsOfRow(row)) {
        const number = numberOf[term] as number;
        if (number !== none) found.push(number);
      }
      return found;
    },
  };
}

function stepper(index: ReportIndex, steps: Steps): (row: number) => number {
  const at = index.at.values;
  if (steps.every === 'hour') return (row) => placeOfHour(steps, at[row] as number);
  const { first, last } = steps.span;
  const dayOfRow = (row: number) => Math.min(last, Math.max(first, dayOf(at[row] as number)));
  if (steps.every === 'day since release') {
    const ages = index.versions.map(ageOf(steps));
    return (row) => (ages[index.versionOf.values[row] as number] as (day: number) => number)(dayOfRow(row));
  }
  const placeOf = placesOfDays(steps);
  return (row) => placeOf[dayOfRow(row)] as number;
}

interface EntriesToCount {
  readonly rowOf: Int32Array;
  /** What different ones are counted of, by the row; null for the reports themselves. */
  readonly codes: Int32Array | null;
  readonly cells: number;
  readonly cellOf: (entry: number) => number;
}

/**
 * Counts entries in cells, each with its weight, or how many different codes they have; and the design effect of Poisson counts that
 * come by persons: Σx² / Σx over the persons of a cell, x being what each caused.
 */
function countEntries(index: ReportIndex, { rowOf, codes, cells, cellOf }: EntriesToCount): Counted[] {
  const counted = new Float64Array(cells);
  const squares = new Float64Array(cells);
  const persons = index.personOf.values;
  const order = orderedBy(codes ?? persons, rowOf);
  const last = new Int32Array(cells).fill(none);
  const own = new Float64Array(cells);
  for (const entry of order) {
    const row = rowOf[entry] as number;
    const cell = cellOf(entry);
    if (codes !== null) {
      const code = codes[row] as number;
      if (code === none || last[cell] === code) continue;
      last[cell] = code;
      counted[cell] = (counted[cell] as number) + 1;
      continue;
    }
    const weight = index.weightOf(row);
    counted[cell] = (counted[cell] as number) + weight;
    const person = persons[row] as number;
    if (person === none || last[cell] !== person) own[cell] = 0;
    last[cell] = person;
    // (x + w)² − x²
    squares[cell] = (squares[cell] as number) + weight * (2 * (own[cell] as number) + weight);
    own[cell] = (own[cell] as number) + weight;
  }
  return Array.from(counted, (count, cell) => ({
    count: Math.round(count),
    per: null,
    effect: codes === index.caseOf.values ? null : codes === null && count > 0 ? Math.max(1, (squares[cell] as number) / count) : 1,
  }));
}

/** Entries in the order of a number of their rows: a counting sort. */
function orderedBy(numbers: Int32Array, rowOf: Int32Array): Uint32Array {
  let most = none;
  for (const row of rowOf) if ((numbers[row] as number) > most) most = numbers[row] as number;
  const starts = new Uint32Array(most + 3);
  for (const row of rowOf) {
    const at = (numbers[row] as number) + 2;
    starts[at] = (starts[at] as number) + 1;
  }
  for (let at = 1; at < starts.length; at++) starts[at] = (starts[at] as number) + (starts[at - 1] as number);
  const order = new Uint32Array(rowOf.length);
  rowOf.forEach((row, entry) => {
    const at = (numbers[row] as number) + 1;
    order[starts[at] as number] = entry;
    starts[at] = (starts[at] as number) + 1;
  });
  return order;
}
