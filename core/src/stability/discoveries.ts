import { compareSides, effectOfNewer, saysEnough, type Verdict } from './comparison.ts';
import { normalQuantile } from './normal-quantile.ts';
import type { Sides } from './sides.ts';

/** The share of what is marked that is marked by chance, on average over many screens. */
export const falseDiscoveries = 0.05;

/** Nothing is told worse because of fewer crashed persons than these. */
const leastHit = 5;

/**
 * Which of many comparisons stand out: their verdicts, such that of all that are told better or worse at most one in twenty is so by
 * chance (Benjamini and Hochberg 1995, J. R. Statist. Soc. B 57, 289–300), or `share` of them. Comparisons of too few crashed persons take
 * no part.
 */
export function verdictsOfMany(all: readonly Sides[], share = falseDiscoveries): Verdict[] {
  const scores = all.map((sides) => (saysEnough(sides, 'once') ? skewedScore(sides) : null));
  const strength = scores.flatMap((score) => (score === null ? [] : [Math.abs(score)])).sort((a, b) => b - a);
  const bound = boundOfMany(strength, share);
  return all.map((sides, at) => {
    const score = scores[at];
    if (score == null) return 'too-early';
    if (score <= -bound) return 'better';
    if (score >= bound && sides.newer.personsHit >= leastHit) return 'worse';
    return compareSides(sides).verdict === 'alike' ? 'alike' : 'too-early';
  });
}

/** The least score that is told, of scores from the strongest on: the last one beyond its bound takes all before it along. */
function boundOfMany(strength: readonly number[], share: number): number {
  const last = strength.findLastIndex((score, at) => score >= normalQuantile(1 - ((at + 1) * share) / (2 * strength.length)));
  return last < 0 ? Number.POSITIVE_INFINITY : (strength[last] as number);
}

/**
 * How many standard deviations the newer side is off, were both alike; far out in the tails too, where few crashes are skewed: bad sessions
 * in units in which their variance is their mean, as of a Poisson number, whose tails Wilson and Hilferty (1931, PNAS 17, 684–688) make
 * normal.
 */
export function skewedScore(sides: Sides): number {
  const { newer, older } = sides;
  const count = newer.count + older.count;
  const rate = (newer.hits + older.hits) / count;
  const unit = (effectOfNewer(sides) * (1 - rate) * older.count) / count;
  const [seen, mean] = [newer.hits / unit, (rate * newer.count) / unit];
  // The tail of numbers as large as the one seen, or as small.
  const shape = seen > mean ? seen : seen + 1;
  const score = 3 * Math.sqrt(shape) * (1 - 1 / (9 * shape) - Math.cbrt(mean / shape));
  return seen > mean ? Math.max(0, score) : Math.min(0, score);
}
