import { type BadEnds, badSessions } from '../stability/figures.ts';
import { designEffect, type PersonSums } from '../stability/session-rate.ts';
import type { Sides } from '../stability/sides.ts';
import type { Column } from './gather.ts';
import { type SessionIndex, sampleShare } from './session-index.ts';
import { eachRow, type RowCheck, rowsByPerson, type Sampling, somePersons } from './session-rows.ts';
import { type Effects, outcomeNames, type Sums } from './tally.ts';
import type { Axes } from './tally-rows.ts';

/** Where the sums of an outcome stand among those of a cell: persons hit, Σ x·n, Σ x². */
const [personsHit, products, hitSquares, outcomeWidth] = [0, 1, 2, 3];
/** The sums of a cell: persons, Σ n², and for every outcome the three above. */
const [persons, countSquares, firstOutcome] = [0, 1, 2];
const spreadWidth = firstOutcome + outcomeWidth * outcomeNames.length;
/** Sums over persons of what they did in a cell, times what they did anywhere: Σ x·X, Σ x·N, Σ n·X, Σ n·N of bad sessions. */
const crossWidth = 4;

/** Sums over persons of many cells, from which it follows how surely rates of their sessions are known. */
export class SpreadTally {
  readonly sums: Float64Array;
  readonly crossed: Float64Array;

  constructor(cells: number) {
    this.sums = new Float64Array(spreadWidth * cells);
    this.crossed = new Float64Array(crossWidth * cells);
  }

  /** Adds a person: `n` sessions, and of those the ones that ended in each way; null where none ended badly. */
  add(cell: number, n: number, ends: ArrayLike<number> | null, endsAt: number): void {
    const { sums } = this;
    const at = spreadWidth * cell;
    sums[at + persons] = (sums[at + persons] as number) + 1;
    sums[at + countSquares] = (sums[at + countSquares] as number) + n * n;
    if (ends === null) return;
    for (let outcome = 0; outcome < outcomeNames.length; outcome++) {
      const x = ends[endsAt + outcome] as number;
      if (x === 0) continue;
      const own = at + firstOutcome + outcomeWidth * outcome;
      sums[own + personsHit] = (sums[own + personsHit] as number) + 1;
      sums[own + products] = (sums[own + products] as number) + x * n;
      sums[own + hitSquares] = (sums[own + hitSquares] as number) + x * x;
    }
  }

  cross(cell: number, x: number, n: number, allBad: number, all: number): void {
    const { crossed } = this;
    const at = crossWidth * cell;
    crossed[at] = (crossed[at] as number) + x * allBad;
    crossed[at + 1] = (crossed[at + 1] as number) + x * all;
    crossed[at + 2] = (crossed[at + 2] as number) + n * allBad;
    crossed[at + 3] = (crossed[at + 3] as number) + n * all;
  }

  personSums(cell: number, outcome: number, times: number): PersonSums {
    const at = spreadWidth * cell;
    const own = at + firstOutcome + outcomeWidth * outcome;
    const of = (place: number) => times * (this.sums[place] as number);
    return {
      persons: of(at + persons),
      countSquares: of(at + countSquares),
      // How many were seen, which is how much is known.
      personsHit: this.sums[own + personsHit] as number,
      products: of(own + products),
      hitSquares: of(own + hitSquares),
    };
  }
}

/** How sessions spread over persons, in the cells of two axes and in the sums of both. */
export interface Spread {
  readonly cells: SpreadTally;
  readonly down: SpreadTally;
  readonly across: SpreadTally;
  readonly total: SpreadTally;
  /** How many persons one that was looked at stands for. */
  readonly times: number;
}

/** About so many rows say how sessions spread; of more, one person in so many is looked at. */
const enoughRows = 150_000;

/** Sums up how the sessions that pass a check spread over persons: of the sample or of everybody, or of some of those. */
export function spreadOf(
  index: SessionIndex,
  check: RowCheck,
  { down, across }: Axes,
  { sampling, badEnds }: { sampling: Sampling; badEnds: BadEnds },
): Spread {
  const gathering = new PersonGathering(down.values.length, across.values.length);
  const { first, last, marksLooked, marksWanted, test } = check;
  const marks = index.column('marks');
  const dayOf = index.column('dayOf');
  const personOf = index.column('personOf');
  const sessions = index.column('sessions');
  const troubled = index.column('troubled');
  const endsOf = outcomesOfRows(index, badEnds);
  const byPerson = rowsByPerson(index, sampling);
  const some = somePersons(index, byPerson, enoughRows);
  const look = (row: number) => {
    const person = personOf[row] as number;
    if (!some.has(person)) return;
    const day = dayOf[row] as number;
    const marksOfRow = marks[row] as number;
    if (day < first || day > last || (marksOfRow & marksLooked) !== marksWanted || (test !== null && !test(row))) return;
    const cell =
      (down.placeOf[down.codes[row] as number] as number) * across.values.length + (across.placeOf[across.codes[row] as number] as number);
    // Where nobody is known, a session has a number of its own.
    gathering.add(person, cell, sessions[row] as number, troubled[row] === 1 ? endsOf(row) : null);
  };
  eachRow(byPerson, look);
  return { ...gathering.end(), times: some.share * (sampling === 'sample' ? sampleShare : 1) };
}

/** How the sessions of a row ended, in the order of `outcomeNames`. */
function outcomesOfRows(index: SessionIndex, { hangs, kills }: BadEnds): (row: number) => readonly number[] {
  const [crashed, hung, killed, atStart, errors] = (['crashed', 'hung', 'killed', 'crashedAtStart', 'withErrors'] as const).map((name) =>
    index.column(name),
  ) as [Column, Column, Column, Column, Column];
  return (row) => {
    const [ofCrash, ofHang, ofKill] = [crashed[row] as number, hung[row] as number, killed[row] as number];
    const bad = ofCrash + (hangs ? ofHang : 0) + (kills ? ofKill : 0);
    return [bad, ofCrash, ofHang, ofKill, atStart[row] as number, errors[row] as number];
  };
}

/** What one person did, cell by cell, until the rows of the next one begin. */
class PersonGathering {
  private readonly spread: Omit<Spread, 'times'>;
  private person = -1;
  private hasBadEnd = false;
  private readonly cells: PlaceSums;
  /** Sums of the axes; none where they are those of the cells. */
  private readonly down: PlaceSums | null;
  private readonly across: PlaceSums | null;
  private readonly total: PlaceSums | null;

  constructor(
    downCount: number,
    private readonly acrossCount: number,
  ) {
    const sums = (places: number, isOwn: boolean) => (isOwn ? new PlaceSums(places) : null);
    this.cells = new PlaceSums(downCount * acrossCount);
    this.down = sums(downCount, acrossCount > 1);
    this.across = sums(acrossCount, downCount > 1);
    this.total = sums(1, downCount * acrossCount > 1);
    const { tally } = this.cells;
    this.spread = {
      cells: tally,
      down: this.down?.tally ?? tally,
      across: this.across?.tally ?? tally,
      total: this.total?.tally ?? tally,
    };
  }

  add(person: number, cell: number, sessions: number, ends: readonly number[] | null): void {
    if (person !== this.person) this.flush();
    this.person = person;
    this.cells.add(cell, sessions, ends, 0);
    if (ends !== null) this.hasBadEnd = true;
  }

  end(): Omit<Spread, 'times'> {
    this.flush();
    return this.spread;
  }

  private flush(): void {
    const { cells, down, across, total, acrossCount, hasBadEnd } = this;
    const { touched, count, ends, tally } = cells;
    if (touched.length === 0) return;
    for (const cell of touched) {
      const n = count[cell] as number;
      const of = hasBadEnd ? ends : null;
      const at = cell * outcomeNames.length;
      down?.add(Math.floor(cell / acrossCount), n, of, at);
      across?.add(cell % acrossCount, n, of, at);
      total?.add(0, n, of, at);
    }
    const [all, allBad] = [(total ?? cells).count[0] as number, (total ?? cells).ends[0] as number];
    for (const cell of touched) tally.cross(cell, ends[cell * outcomeNames.length] as number, count[cell] as number, allBad, all);
    for (const sums of [cells, down, across, total]) sums?.flush(hasBadEnd);
    this.hasBadEnd = false;
  }
}

/** What one person did in each of some places, and the sums over persons that this is added to. */
class PlaceSums {
  readonly count: Float64Array;
  readonly ends: Float64Array;
  readonly touched: number[] = [];
  readonly tally: SpreadTally;

  constructor(places: number) {
    this.count = new Float64Array(places);
    this.ends = new Float64Array(places * outcomeNames.length);
    this.tally = new SpreadTally(places);
  }

  /** Adds sessions, and how they ended where any ended badly. */
  add(place: number, n: number, ends: ArrayLike<number> | null, endsAt: number): void {
    if (this.count[place] === 0) this.touched.push(place);
    this.count[place] = (this.count[place] as number) + n;
    if (ends === null) return;
    const at = place * outcomeNames.length;
    for (let outcome = 0; outcome < outcomeNames.length; outcome++)
      this.ends[at + outcome] = (this.ends[at + outcome] as number) + (ends[endsAt + outcome] as number);
  }

  /** The person is over. */
  flush(hasBadEnd: boolean): void {
    for (const place of this.touched) {
      const at = place * outcomeNames.length;
      this.tally.add(place, this.count[place] as number, hasBadEnd ? this.ends : null, at);
      this.count[place] = 0;
      if (hasBadEnd) this.ends.fill(0, at, at + outcomeNames.length);
    }
    this.touched.length = 0;
  }
}

/** The design effects of the rates of a cell; `usual` are those of more sessions. */
export function effectsOf(
  { tally, cell, times }: { tally: SpreadTally; cell: number; times: number },
  counts: Sums,
  { badEnds, usual }: { badEnds: BadEnds; usual: Effects },
): Effects {
  const hits = [badSessions(counts, badEnds).hits, counts.crashed, counts.hung, counts.killed, counts.crashedAtStart, counts.withErrors];
  const effects = outcomeNames.map((name, outcome) => {
    const part = { hits: hits[outcome] as number, count: counts.sessions };
    const effect = designEffect(part, tally.personSums(cell, outcome, times), usual[name]);
    // No more digits than tell, since thousands of cells have six each.
    return [name, Math.round(1_000 * effect) / 1_000] as const;
  });
  return Object.fromEntries(effects) as unknown as Effects;
}

/** A cell against all others together, as two sides to compare. */
export function sidesOfCell(
  { cells, total, times }: Spread,
  cell: number,
  { own, all, badEnds }: { own: Sums; all: Sums; badEnds: BadEnds },
): Sides {
  const [x, n] = [cells.personSums(cell, 0, times), cells.personSums(cell, 0, times).countSquares];
  const of = total.personSums(0, 0, times);
  const [xX, xN, nX, nN] = Array.from(
    { length: crossWidth },
    (_, place) => times * (cells.crossed[crossWidth * cell + place] as number),
  ) as [number, number, number, number];
  const [ownBad, allBad] = [badSessions(own, badEnds), badSessions(all, badEnds)];
  return {
    newer: { ...ownBad, persons: own.persons, personsHit: times * x.personsHit },
    older: {
      hits: allBad.hits - ownBad.hits,
      count: allBad.count - ownBad.count,
      persons: Math.max(0, all.persons - own.persons),
      personsHit: Math.max(0, times * (of.personsHit - x.personsHit)),
    },
    products: [
      x.hitSquares,
      x.products,
      xX - x.hitSquares,
      xN - x.products,
      n,
      nX - x.products,
      nN - n,
      of.hitSquares - 2 * xX + x.hitSquares,
      of.products - xN - nX + x.products,
      of.countSquares - 2 * nN + n,
    ],
  };
}
