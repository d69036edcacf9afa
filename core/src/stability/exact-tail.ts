import type { Part } from './sides.ts';

/**
 * With which probability one group would have at least as many hits as it has, were hits dealt out to both by chance: the upper tail of the
 * hypergeometric distribution, which is exact for groups of any size (Fisher 1935).
 */
export function chanceOfAsMany(one: Part, other: Part): number {
  const hits = one.hits + other.hits;
  const count = one.count + other.count;
  const ways = logWays(count, one.count);
  let chance = 0;
  for (let own = one.hits; own <= Math.min(hits, one.count); own++)
    chance += Math.exp(logWays(hits, own) + logWays(count - hits, one.count - own) - ways);
  return Math.min(1, chance);
}

/** The logarithm of the number of ways to choose some of many; minus infinity where there is none. */
const logWays = (many: number, some: number): number =>
  some < 0 || some > many ? Number.NEGATIVE_INFINITY : logFactorial(many) - logFactorial(some) - logFactorial(many - some);

/** ln n!, by Stirling's series beyond the small ones: right to about 1e-10. */
function logFactorial(n: number): number {
  if (n < small.length) return small[n] as number;
  return n * Math.log(n) - n + 0.5 * Math.log(2 * Math.PI * n) + 1 / (12 * n) - 1 / (360 * n ** 3);
}

const small = [0];
for (let n = 1; n < 64; n++) small.push((small[n - 1] as number) + Math.log(n));
