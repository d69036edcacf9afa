import { type Column, gather } from './gather.ts';
import type { Day } from './person-day.ts';
import type { SessionIndex } from './session-index.ts';
import type { SessionTests } from './session-test.ts';

/** Days from the first to the last, both counted. */
export interface DaySpan {
  readonly first: Day;
  readonly last: Day;
}

/**
 * Of whom sessions and persons are counted. The persons in the sample stand for all, so that these two are right within about
 * `sampleError` of their number; what went wrong is counted of everybody in any case.
 */
export type Sampling = 'everybody' | 'sample';

/** More rows than this, and counting everybody takes longer than people like to wait. */
const mostRowsAtOnce = 1_000_000;

/** Whom to count for an answer at once. */
export const samplingAtOnce = (index: SessionIndex): Sampling => (index.rows > mostRowsAtOnce ? 'sample' : 'everybody');

/** What rows of a scope and span have. */
export interface RowCheck extends SessionTests, DaySpan {}

/** The rows of an index person by person: stretches of those in order, and one by one those of persons of whom rows were added. */
export interface RowsByPerson {
  /** From each start up to its end. */
  readonly stretches: readonly (readonly [number, number])[];
  readonly others: Uint32Array;
}

/** The rows of everybody, or of the persons in the sample, whatever they are of. */
export function rowsByPerson(index: SessionIndex, sampling: Sampling): RowsByPerson {
  const { added, starts, ends } = index;
  const sorted = sampling === 'sample' ? index.sampleRows : index.sortedRows;
  const addedPersons = [...added.keys()].filter((person) => sampling === 'everybody' || index.isInSample(person));
  const skipped = addedPersons
    .filter((person) => person < starts.length && (starts[person] as number) < (ends[person] as number))
    .sort((a, b) => (starts[a] as number) - (starts[b] as number));
  const stretches: [number, number][] = [];
  let from = 0;
  for (const person of skipped) {
    stretches.push([from, starts[person] as number]);
    from = ends[person] as number;
  }
  stretches.push([from, sorted]);
  const others: number[] = [];
  for (const person of addedPersons) {
    for (let own = starts[person] ?? 0; own < (ends[person] ?? 0); own++) others.push(own);
    others.push(...(added.get(person) as number[]));
  }
  return { stretches, others: Uint32Array.from(others) };
}

/** Looks at each row, person by person. */
export function eachRow({ stretches, others }: RowsByPerson, look: (row: number) => void): void {
  for (const [from, to] of stretches) for (let row = from; row < to; row++) look(row);
  for (const row of others) look(row);
}

/** Some of the persons of rows, such that about so many rows are theirs: one in `share`, always the same ones. */
export interface SomePersons {
  readonly share: number;
  /** Asked of each row, person by person. */
  readonly has: (person: number) => boolean;
}

export function somePersons(index: SessionIndex, { stretches, others }: RowsByPerson, enoughRows: number): SomePersons {
  const rows = stretches.reduce((sum, [from, to]) => sum + to - from, others.length);
  const share = Math.max(1, Math.round(rows / enoughRows));
  let [last, isAmong] = [-1, true];
  const has = (person: number) => {
    if (person !== last) isAmong = index.isAmong(person, share);
    last = person;
    return isAmong;
  };
  return { share, has: share === 1 ? () => true : has };
}

/** The rows that pass a check, person by person. */
export function rowsThatPass(index: SessionIndex, sampling: Sampling, check: RowCheck): Uint32Array {
  const { stretches, others } = rowsByPerson(index, sampling);
  const passes = checkOf(index, check);
  const found = new Uint32Array(stretches.reduce((sum, [from, to]) => sum + to - from, others.length));
  let count = 0;
  for (const [from, to] of stretches) for (let row = from; row < to; row++) if (passes(row)) found[count++] = row;
  for (let place = 0; place < others.length; place++) if (passes(others[place] as number)) found[count++] = others[place] as number;
  return found.subarray(0, count);
}

/** The check as a test of one row. */
export function checkOf(index: SessionIndex, { first, last, marksLooked, marksWanted, test }: RowCheck): (row: number) => boolean {
  const dayOf = index.column('dayOf');
  const marks = index.column('marks');
  return (row) => {
    const day = dayOf[row] as number;
    return day >= first && day <= last && ((marks[row] as number) & marksLooked) === marksWanted && (test === null || test(row));
  };
}

/** Rows in which something went wrong, and how to read a column for them: `gathered(column)[at]` is that of row `rows[at]`. */
export interface TroubledRows {
  readonly rows: Uint32Array;
  readonly gathered: (column: Column) => Column;
  /** Persons whose rows are to be passed over; null when there is none. */
  readonly isLeftOut: ((person: number) => boolean) | null;
}

/** The rows of everybody in which something went wrong, person by person: those in order, and those of persons of whom rows were added. */
export function troubledRows(index: SessionIndex): TroubledRows[] {
  const { added, starts, ends } = index;
  const inOrder = {
    rows: index.troubledRows,
    gathered: (column: Column) => index.ofTroubled(column),
    isLeftOut: added.size === 0 ? null : (person: number) => added.has(person),
  };
  if (added.size === 0) return [inOrder];
  const troubled = index.column('troubled');
  const more: number[] = [];
  for (const [person, rows] of added) {
    for (let own = starts[person] ?? 0; own < (ends[person] ?? 0); own++) if (troubled[own] === 1) more.push(own);
    for (const own of rows) if (troubled[own] === 1) more.push(own);
  }
  const rows = Uint32Array.from(more);
  return [inOrder, { rows, gathered: (column) => gather(column, rows), isLeftOut: null }];
}
