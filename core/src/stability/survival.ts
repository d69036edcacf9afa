import { of95Percent } from './normal-quantile.ts';
import type { Estimate } from './share.ts';

/** At each use, from the first, be it a day or a session: people who got there without a bad end, and those of them who met one in it. */
export interface FirstUses {
  readonly atRisk: readonly number[];
  readonly met: readonly number[];
}

/**
 * The share of people who meet no bad end in their first uses: the product-limit estimate (Kaplan and Meier 1958), which takes those
 * who have not used it so long for as long as they did, with Greenwood's variance and the interval of its complementary log-log (Kalbfleisch
 * and Prentice 1980), which stays between 0 and 1. Null where fewer than `fewest` people got as far.
 */
export function freeInFirstUses({ atRisk, met }: FirstUses, uses: number, fewest = 30): Estimate | null {
  if ((atRisk[uses - 1] ?? 0) < fewest) return null;
  let [value, sum] = [1, 0];
  for (let use = 0; use < uses; use++) {
    const [n, d] = [atRisk[use] as number, met[use] as number];
    value *= 1 - d / n;
    if (d < n) sum += d / (n * (n - d));
  }
  // Nobody met one: the rule of three bounds what may be.
  if (sum === 0) return { value, low: Math.max(0, 1 - 3 / (atRisk[uses - 1] as number)), high: value };
  const spread = (of95Percent * Math.sqrt(sum)) / Math.abs(Math.log(value));
  return { value, low: value ** Math.exp(spread), high: value ** Math.exp(-spread) };
}
