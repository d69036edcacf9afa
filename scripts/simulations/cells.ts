import { saysEnough } from '@rough-ember/core/stability/comparison';
import { verdictsOfMany } from '@rough-ember/core/stability/discoveries';
import { type Sides, SidesTally } from '@rough-ember/core/stability/sides';
import type { Random } from '@rough-ember/demo/random';
import { gamma, lognormal, poisson } from './draws.ts';

/** A matrix whose cells have people of their own, some of which crash more often than the others. */
export interface CellsDrawn {
  readonly cells: number;
  readonly crashesPerThousand: number;
  /** How many cells crash so many times as often. */
  readonly worse: number;
  readonly times: number;
}

/** What was marked in one drawing. */
export interface Marked {
  readonly falsely: number;
  readonly rightly: number;
  /** Cells that crash more often and have so many crashed persons that something may be said of them. */
  readonly couldBe: number;
}

/** Crashed persons of a cell in the middle, were all alike. */
const crashedPersons = 30;

const sessionsOfPerson = 6;

/** Draws the people of each cell, with unequal use, unequal risk and retries, and marks the cells that stand out. */
export function markCells(random: Random, { cells, crashesPerThousand, worse, times }: CellsDrawn): Marked {
  const drawn = Array.from({ length: cells }, (_, cell) => {
    const usual = crashesPerThousand / 1_000 / 2;
    // Cells are of very different sizes, as devices are.
    const people = Math.max(4, Math.round((crashedPersons / (usual * sessionsOfPerson)) * lognormal(random, 1)));
    const chance = usual * (cell < worse ? times : 1);
    return Array.from({ length: people }, () => drawPerson(random, chance));
  });
  const tallies = drawn.map((_, cell) => againstOthers(drawn, cell));
  const verdicts = verdictsOfMany(tallies);
  const marked = (isWorse: boolean) => verdicts.filter((verdict, cell) => verdict === 'worse' && cell < worse === isWorse).length;
  // Where some cells are worse, the others are better than the rest indeed.
  const better = worse > 0 ? 0 : verdicts.filter((verdict) => verdict === 'better').length;
  const couldBe = tallies.slice(0, worse).filter((sides) => saysEnough(sides, 'once')).length;
  return { falsely: marked(false) + better, rightly: marked(true), couldBe };
}

/** Crashed sessions and all sessions; half of the crashes are tried again at once. */
function drawPerson(random: Random, chance: number): readonly [number, number] {
  const risk = gamma(random, 0.3) / 0.3;
  let [bad, all] = [0, 0];
  for (let left = poisson(random, sessionsOfPerson * lognormal(random, 0.8)); left > 0; left--) {
    let crashes = random.next() < chance * risk ? 1 : 0;
    while (crashes > 0 && random.next() < 0.5) crashes++;
    bad += crashes;
    all += Math.max(1, crashes);
  }
  return [bad, all];
}

type Done = readonly (readonly [number, number])[];

/** The sums of everybody are the same for each cell, so they are gathered once. */
const everybody = new WeakMap<readonly Done[], SidesTally>();

function againstOthers(drawn: readonly Done[], cell: number): Sides {
  const tally = everybody.get(drawn) ?? new SidesTally();
  if (!everybody.has(drawn)) {
    for (const people of drawn) for (const [bad, all] of people) tally.add(0, 0, bad, all);
    everybody.set(drawn, tally);
  }
  const own = drawn[cell] as Done;
  for (const [bad, all] of own) {
    tally.remove(0, 0, bad, all);
    tally.add(bad, all, 0, 0);
  }
  const { sides } = tally;
  for (const [bad, all] of own) {
    tally.remove(bad, all, 0, 0);
    tally.add(0, 0, bad, all);
  }
  return sides;
}
