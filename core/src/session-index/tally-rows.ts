import type { Axis } from './axis.ts';
import { mark, type SessionIndex, sampleShare } from './session-index.ts';
import { type RowCheck, rowsByPerson, type Sampling, type TroubledRows, troubledRows } from './session-rows.ts';
import { cellWidth, Tally } from './tally.ts';

/** What was counted in the cells of two axes, and in the sums of both. */
export interface Tallies {
  readonly cells: Tally;
  readonly down: Tally;
  readonly across: Tally;
  readonly total: Tally;
}

/** Two axes that rows are counted along. */
export interface Axes {
  readonly down: Axis;
  readonly across: Axis;
}

/** Counts the rows that pass a check into the cells of two axes, and into the sums of both. */
export function tallyRows(index: SessionIndex, check: RowCheck, { down, across }: Axes, sampling: Sampling): Tallies {
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
  // Along one value of an axis, the sums are those of the cells.
  return { ...tallies, down: acrossCount === 1 ? cells : tallies.down, across: downCount === 1 ? cells : tallies.across };
}

/** Counts what went wrong in the rows that pass a check, along no axis. */
export function tallyTrouble(index: SessionIndex, check: RowCheck, all: Axis): Tally {
  const total = new Tally(1);
  const tallies = { cells: new Tally(1), down: new Tally(1), across: new Tally(1), total };
  for (const some of troubledRows(index)) countTrouble({ index, check, down: all, across: all, tallies }, some);
  return total;
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
