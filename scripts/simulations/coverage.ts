import { compareSides } from '@rough-ember/core/stability/comparison';
import { designEffect, type PersonSums, shareOfSessions, typicalEffect } from '@rough-ember/core/stability/session-rate';
import { SidesTally } from '@rough-ember/core/stability/sides';
import type { Random } from '@rough-ember/demo/random';
import type { PersonDone } from './demo-people.ts';

const sum = (people: readonly PersonDone[], of: (person: PersonDone) => number): number =>
  people.reduce((all, person) => all + of(person), 0);
const partOf = (people: readonly PersonDone[]) => ({ hits: sum(people, ([x]) => x), count: sum(people, ([, n]) => n) });
const sumsOf = (people: readonly PersonDone[]): PersonSums => ({
  persons: people.length,
  personsHit: people.filter(([x]) => x > 0).length,
  countSquares: sum(people, ([, n]) => n * n),
  products: sum(people, ([x, n]) => x * n),
  hitSquares: sum(people, ([x]) => x * x),
});

/** People drawn with replacement until they have so many sessions. */
function draw(random: Random, people: readonly PersonDone[], sessions: number): PersonDone[] {
  const drawn: PersonDone[] = [];
  for (let count = 0; count < sessions; ) {
    const person = random.pick(people);
    drawn.push(person);
    count += person[1];
  }
  return drawn;
}

/** In which share of draws of people the interval of their crash rate holds the rate of all. */
export function coverageOf(random: Random, people: readonly PersonDone[], { sessions, runs }: { sessions: number; runs: number }): number {
  const all = partOf(people);
  const truth = all.hits / all.count;
  const usual = designEffect(all, sumsOf(people), typicalEffect);
  let held = 0;
  for (let run = 0; run < runs; run++) {
    const drawn = draw(random, people, sessions);
    const part = partOf(drawn);
    const { low, high } = shareOfSessions(part, designEffect(part, sumsOf(drawn), usual));
    if (low <= truth && truth <= high) held++;
  }
  return held / runs;
}

/** In which share of tries a random fifth of the people is told better or worse than the others. */
export function fifthTold(random: Random, people: readonly PersonDone[], runs: number): number {
  let told = 0;
  for (let run = 0; run < runs; run++) {
    const tally = new SidesTally();
    for (const [bad, sessions] of people)
      if (random.below(5) === 0) tally.add(bad, sessions, 0, 0);
      else tally.add(0, 0, bad, sessions);
    const { verdict } = compareSides(tally.sides);
    if (verdict === 'better' || verdict === 'worse') told++;
  }
  return told / runs;
}
