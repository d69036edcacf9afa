import { type Comparison, compareSides, type Verdict } from '@rough-ember/core/stability/comparison';
import { SidesTally } from '@rough-ember/core/stability/sides';
import { StrataTally } from '@rough-ember/core/stability/strata';
import type { Random } from '@rough-ember/demo/random';
import { gamma, lognormal, poisson } from './draws.ts';

const persons = 20_000;
const days = 10;

/** Two kinds of phone: who has the better one crashes less, and updates sooner; the version changes nothing. */
const phones = [
  { crashesPerThousand: 7, halfAfterDays: 2 },
  { crashesPerThousand: 20, halfAfterDays: 8 },
] as const;

/** What is told of a version that has no effect at all, after ten days in which better phones came first: plainly, and among equal phones. */
export function compareAdopters(random: Random): { readonly plain: Verdict; readonly standardised: Verdict } {
  const tally = new SidesTally();
  const strata = new StrataTally();
  for (let person = 0; person < persons; person++) {
    const stratum = person % phones.length;
    const { crashesPerThousand, halfAfterDays } = phones[stratum] as (typeof phones)[number];
    const updatesAfter = (-Math.log(1 - random.next()) * halfAfterDays) / Math.LN2;
    const chance = ((crashesPerThousand / 1_000) * gamma(random, 1)) / 1;
    const usage = lognormal(random, 0.8);
    const own: [number, number, number, number] = [0, 0, 0, 0];
    for (let day = 0; day < days; day++) {
      const at = day >= updatesAfter ? 0 : 2;
      for (let left = poisson(random, usage); left > 0; left--) {
        own[(at + 1) as 1 | 3]++;
        if (random.next() < chance) own[at as 0 | 2]++;
      }
    }
    tally.add(...own);
    if (own[1] > 0) strata.add(person, stratum, 0, own[0], own[1]);
    if (own[3] > 0) strata.add(person, stratum, 2, own[2], own[3]);
  }
  const within: Comparison = compareSides(tally.sides, 'once', strata.standardised());
  return { plain: compareSides(tally.sides, 'once').verdict, standardised: within.verdict };
}
