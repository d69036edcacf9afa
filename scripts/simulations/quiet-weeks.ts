import { changesOf } from '@rough-ember/core/cases/case-news';
import type { Random } from '@rough-ember/demo/random';
import { lognormal, poisson } from './draws.ts';

const cases = 300;
/** Sessions of the week before, and how many times as many there are in the last one. */
const sessions = 200_000;
const growth = 1.2;

/** People who meet one case in a week, however often it repeats for them: as many for as many sessions in both weeks. */
const drawPeople = (random: Random, usual: number, share: number): number => poissonOfAny(random, usual * share);

/** A Poisson number of any mean, in parts that do not underflow. */
function poissonOfAny(random: Random, mean: number): number {
  let [sum, left] = [0, mean];
  for (; left > 50; left -= 50) sum += poisson(random, 50);
  return sum + poisson(random, left);
}

/** How many cases of a list are told to get worse, of cases that do not change while the app is used more. */
export function toldWorse(
  random: Random,
  { times = 1, changed = 0 }: { times?: number; changed?: number } = {},
): { falsely: number; rightly: number } {
  const drawn = Array.from({ length: cases }, (_, caseId) => {
    const usual = 30 * lognormal(random, 1.2);
    const share = growth * (caseId < changed ? times : 1);
    return {
      caseId,
      week: { hits: drawPeople(random, usual, share), count: sessions * growth },
      weekBefore: { hits: drawPeople(random, usual, 1), count: sessions },
    };
  });
  const worse = [...changesOf(drawn)].filter(([, change]) => change.isWorse).map(([caseId]) => caseId);
  return { falsely: worse.filter((id) => id >= changed).length, rightly: worse.filter((id) => id < changed).length };
}
