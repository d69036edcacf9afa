import { meaningOf } from '../fields/fields.ts';
import { of95Percent } from '../stability/normal-quantile.ts';
import { compareVersions } from '../version/version-order.ts';
import type { Column } from './gather.ts';
import { type Day, listSeparator, type SessionField } from './person-day.ts';
import { mark, type SessionIndex, sampleShare } from './session-index.ts';
import { type DaySpan, type RowCheck, rowsByPerson, type Sampling, type TroubledRows, troubledRows } from './session-rows.ts';
import { type SessionScope, sessionTests } from './session-test.ts';
import { type Counts, cellWidth, Tally } from './tally.ts';
import { notTold } from './value-column.ts';

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
}

/** What the value of sessions is called that do not tell a field. */
export const notToldValue = '';

/** The values of a field in the order that people expect, and how a row is told its place among them: `placeOf[codes[row]]`. */
interface Axis {
  readonly values: readonly string[];
  readonly codes: Column;
  readonly placeOf: Int32Array;
}

/** One value for every row, whatever its marks. */
const oneValue = (index: SessionIndex): Axis => ({
  values: [notToldValue],
  codes: index.column('marks'),
  placeOf: new Int32Array(256),
});

/** What everything is called that has none of the values an axis names. */
export const otherValues = '\u2026';

/**
 * The axis of a field. Of more values than `most` it names those that matter: of versions the newest, of others the commonest;
 * the rest is counted together, at the end.
 */
function axisOf(index: SessionIndex, split: SessionField | null, most: number): Axis {
  const column = split && index.valuesOf(split);
  if (!split || !column) return oneValue(index);
  const word = (code: number) => (code === notTold ? notToldValue : (column.dictionary[code] as string).replaceAll(listSeparator, ', '));
  const isOrdered = meaningOf(split.field).order === 'version';
  const inOrder = column.dictionary.map((_, code) => code).slice(1);
  if (isOrdered) inOrder.sort((a, b) => compareVersions(word(a), word(b)));
  else {
    const weights = index.weightsOf(column);
    inOrder.sort((a, b) => (weights[b] as number) - (weights[a] as number));
  }
  const named = inOrder.length <= most ? inOrder : isOrdered ? inOrder.slice(-most) : inOrder.slice(0, most);
  const places = [notTold, ...named];
  const isCut = named.length < inOrder.length;
  const placeOf = new Int32Array(column.dictionary.length).fill(places.length);
  places.forEach((code, place) => {
    placeOf[code] = place;
  });
  return { values: [...places.map(word), ...(isCut ? [otherValues] : [])], codes: column.codes, placeOf };
}

/** More rows than this, and counting everybody takes longer than people like to wait. */
const mostRowsAtOnce = 1_000_000;

/** Whom to count for an answer at once. */
export const samplingAtOnce = (index: SessionIndex): Sampling => (index.rows > mostRowsAtOnce ? 'sample' : 'everybody');

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
  { sampling = 'everybody', most = 40 }: { sampling?: Sampling; most?: number } = {},
): SessionMatrix {
  index.ready();
  const [rows, columns] = [axisOf(index, down, most), axisOf(index, across, most)];
  const tallies = countInto(index, scope, span, { down: rows, across: columns, sampling });
  const all = (tally: Tally) => Array.from({ length: tally.cells }, (_, cell) => tally.of(cell));
  return withoutEmpty({
    sampling,
    rows: rows.values,
    columns: columns.values,
    cells: all(tallies.cells),
    ofRows: all(tallies.down),
    ofColumns: all(tallies.across),
    total: tallies.total.of(0),
  });
}

/** Drops the rows and columns that no session of the scope is in. */
function withoutEmpty({ sampling, rows, columns, cells, ofRows, ofColumns, total }: SessionMatrix): SessionMatrix {
  const kept = (sums: readonly Counts[]) => sums.flatMap((sum, place) => (sum.sessions > 0 ? [place] : []));
  const [keptRows, keptColumns] = [kept(ofRows), kept(ofColumns)];
  return {
    sampling,
    rows: keptRows.map((row) => rows[row] as string),
    columns: keptColumns.map((column) => columns[column] as string),
    cells: keptRows.flatMap((row) => keptColumns.map((column) => cells[row * columns.length + column] as Counts)),
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

/** Counts sessions and persons of each day by the values of a field. */
export function countDailySessions(
  index: SessionIndex,
  scope: SessionScope,
  span: DaySpan,
  split: SessionField | null,
  { sampling = 'everybody', most = 12 }: { sampling?: Sampling; most?: number } = {},
): DailySessions {
  index.ready();
  const axis = axisOf(index, split, most);
  const days = span.last - span.first + 1;
  const dayAxis: Axis = {
    values: Array.from({ length: days }, (_, day) => String(span.first + day)),
    codes: index.column('dayOf'),
    placeOf: Int32Array.from({ length: span.last + 1 }, (_, day) => Math.max(0, day - span.first)),
  };
  const { cells: tally, down: sums, across: ofDays, total } = countInto(index, scope, span, { down: axis, across: dayAxis, sampling });
  const courses = axis.values.map((value, place) => ({
    value,
    sum: sums.of(place),
    days: Array.from({ length: days }, (_, day) => tally.of(place * days + day)),
  }));
  const kept = courses.filter((course) => course.days.some((day) => day.sessions > 0));
  return {
    sampling,
    first: span.first,
    values: kept.map((one) => one.value),
    days: kept.map((one) => one.days),
    sums: kept.map((one) => one.sum),
    ofDays: Array.from({ length: days }, (_, day) => ofDays.of(day)),
    total: total.of(0),
  };
}

/** What ended badly in sessions that only reports tell of: it is in no other figure, since nobody knows how many went well. */
export function countInferred(index: SessionIndex, scope: SessionScope, span: DaySpan): Pick<Counts, 'crashed' | 'hung' | 'killed'> {
  index.ready();
  const tests = sessionTests(index, scope);
  const total = new Tally(1);
  const all = oneValue(index);
  const check = { ...tests, marksWanted: tests.marksWanted | mark.inferred, ...span };
  const tallies = { cells: new Tally(1), down: new Tally(1), across: new Tally(1), total };
  for (const some of troubledRows(index)) countTrouble({ index, check, down: all, across: all, tallies }, some);
  const { crashed, hung, killed } = total.of(0);
  return { crashed, hung, killed };
}

interface Tallies {
  readonly cells: Tally;
  readonly down: Tally;
  readonly across: Tally;
  readonly total: Tally;
}

interface Counting {
  readonly down: Axis;
  readonly across: Axis;
  readonly sampling: Sampling;
}

/** Counts the rows of a scope into the cells of two axes, and into the sums of both. */
function countInto(index: SessionIndex, scope: SessionScope, span: DaySpan, { down, across, sampling }: Counting): Tallies {
  const check = { ...sessionTests(index, scope), ...span };
  const [downCount, acrossCount] = [down.values.length, across.values.length];
  const cells = new Tally(downCount * acrossCount);
  const tallies = { cells, down: new Tally(downCount), across: new Tally(acrossCount), total: new Tally(1) };
  const { stretches, others } = rowsByPerson(index, sampling);
  const counter = { index, check, down, across, tallies };
  for (const [from, to] of stretches) countSessionsAndPersons(counter, null, from, to);
  countSessionsAndPersons(counter, others, 0, others.length);
  sumSessionsOfCells(tallies);
  if (sampling === 'sample') for (const tally of Object.values(tallies)) tally.scale(sampleShare);
  for (const some of troubledRows(index)) countTrouble(counter, some);
  return { ...tallies, down: acrossCount === 1 ? cells : tallies.down, across: downCount === 1 ? cells : tallies.across };
}

interface Counter {
  readonly index: SessionIndex;
  readonly check: RowCheck;
  readonly down: Axis;
  readonly across: Axis;
  readonly tallies: Tallies;
}

/**
 * What runs through every row of an app at each question: plain columns, nothing is called for a row but the filter, and whole
 * numbers of 32 bits with a sign, since others are reckoned with as fractions, which takes twice the time.
 */
function countSessionsAndPersons(
  { index, check, down, across, tallies }: Counter,
  others: Uint32Array | null,
  from: number,
  to: number,
): void {
  const { first, last, marksLooked, marksWanted, test } = check;
  const { codes: downCodes, placeOf: downPlaceOf } = down;
  const { codes: acrossCodes, placeOf: acrossPlaceOf } = across;
  const acrossCount = tallies.across.cells;
  const dayOf = index.column('dayOf') as Uint16Array;
  const marks = index.column('marks') as Uint8Array;
  const personOf = index.column('personOf') as Int32Array;
  const sessionsOf = index.column('sessions') as Uint16Array;
  const { firstDays } = index;
  const cells = tallies.cells.counts;
  const downs = tallies.down.counts;
  const acrosses = tallies.across.counts;
  const total = tallies.total.counts;
  for (let at = from; at < to; at++) {
    const row = others === null ? at : (others[at] as number);
    const day = dayOf[row] as number;
    const marksOfRow = marks[row] as number;
    if (day < first || day > last || (marksOfRow & marksLooked) !== marksWanted) continue;
    if (test !== null && !test(row)) continue;
    const downPlace = downPlaceOf[downCodes[row] as number] as number;
    const acrossPlace = acrossPlaceOf[acrossCodes[row] as number] as number;
    const cell = Math.imul(Math.imul(downPlace, acrossCount) + acrossPlace, cellWidth);
    cells[cell] = ((cells[cell] as number) + (sessionsOf[row] as number)) | 0;
    const person = ((personOf[row] as number) + 1) | 0;
    if (cells[cell + 3] === person || (marksOfRow & mark.unknownPerson) !== 0) continue;
    const news = (firstDays[person - 1] as number) >= first ? 1 : 0;
    cells[cell + 1] = ((cells[cell + 1] as number) + 1) | 0;
    cells[cell + 2] = ((cells[cell + 2] as number) + news) | 0;
    cells[cell + 3] = person;
    const ofDown = Math.imul(downPlace, cellWidth);
    if (downs[ofDown + 3] !== person) {
      downs[ofDown + 1] = ((downs[ofDown + 1] as number) + 1) | 0;
      downs[ofDown + 2] = ((downs[ofDown + 2] as number) + news) | 0;
      downs[ofDown + 3] = person;
    }
    const ofAcross = Math.imul(acrossPlace, cellWidth);
    if (acrosses[ofAcross + 3] !== person) {
      acrosses[ofAcross + 1] = ((acrosses[ofAcross + 1] as number) + 1) | 0;
      acrosses[ofAcross + 2] = ((acrosses[ofAcross + 2] as number) + news) | 0;
      acrosses[ofAcross + 3] = person;
    }
    if (total[3] !== person) {
      total[1] = ((total[1] as number) + 1) | 0;
      total[2] = ((total[2] as number) + news) | 0;
      total[3] = person;
    }
  }
}

/** Sessions add up, so the sums follow from the cells. */
function sumSessionsOfCells({ cells, down, across, total }: Tallies): void {
  const add = (counts: Int32Array, cell: number, sessions: number) => {
    counts[cellWidth * cell] = (counts[cellWidth * cell] as number) + sessions;
  };
  for (let cell = 0; cell < cells.cells; cell++) {
    const sessions = cells.counts[cellWidth * cell] as number;
    if (sessions === 0) continue;
    add(down.counts, Math.floor(cell / across.cells), sessions);
    add(across.counts, cell % across.cells, sessions);
    add(total.counts, 0, sessions);
  }
}

/** What went wrong is rare, so it is looked at by itself: columns that hold nothing but the rows in question. */
function countTrouble({ index, check, down, across, tallies }: Counter, { rows, gathered, isLeftOut }: TroubledRows): void {
  const { first, last, marksLooked, marksWanted, test } = check;
  const { cells, down: downs, across: acrosses, total } = tallies;
  const downCodes = gathered(down.codes);
  const acrossCodes = gathered(across.codes);
  const dayOf = gathered(index.column('dayOf'));
  const personOf = gathered(index.column('personOf'));
  const crashed = gathered(index.column('crashed'));
  const hung = gathered(index.column('hung'));
  const killed = gathered(index.column('killed'));
  const crashedAtStart = gathered(index.column('crashedAtStart'));
  const withErrors = gathered(index.column('withErrors'));
  // Marks change in place, when somebody is forgotten.
  const marks = index.column('marks') as Uint8Array;
  const trouble = { crashed: 0, hung: 0, killed: 0, crashedAtStart: 0, withErrors: 0 };
  for (let at = 0; at < rows.length; at++) {
    const day = dayOf[at] as number;
    if (day < first || day > last) continue;
    const row = rows[at] as number;
    const marksOfRow = marks[row] as number;
    if ((marksOfRow & marksLooked) !== marksWanted || (test !== null && !test(row))) continue;
    const known = personOf[at] as number;
    if (isLeftOut?.(known)) continue;
    const person = (marksOfRow & mark.unknownPerson) === 0 ? known : -1;
    trouble.crashed = crashed[at] as number;
    trouble.hung = hung[at] as number;
    trouble.killed = killed[at] as number;
    trouble.crashedAtStart = crashedAtStart[at] as number;
    trouble.withErrors = withErrors[at] as number;
    const downPlace = down.placeOf[downCodes[at] as number] as number;
    const acrossPlace = across.placeOf[acrossCodes[at] as number] as number;
    cells.addTrouble(downPlace * across.values.length + acrossPlace, person, trouble);
    // With one value on an axis, the sums are those of the cells.
    if (acrosses.cells > 1) downs.addTrouble(downPlace, person, trouble);
    if (downs.cells > 1) acrosses.addTrouble(acrossPlace, person, trouble);
    total.addTrouble(0, person, trouble);
  }
}
