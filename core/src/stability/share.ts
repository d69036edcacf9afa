import { normalQuantile, of95Percent } from './normal-quantile.ts';

/** A value with the interval it lies in. */
export interface Estimate {
  /** NaN where nothing was counted; null in JSON. */
  readonly value: number;
  readonly low: number;
  readonly high: number;
}

/**
 * The share of `hits` among `count` with the Wilson score interval (Wilson 1927), 95 % unless another number of standard
 * deviations is given.
 */
export function shareOf(hits: number, count: number, deviations = of95Percent): Estimate {
  if (count === 0) return { value: Number.NaN, low: 0, high: 1 };
  const share = hits / count;
  const square = deviations ** 2;
  const centre = (share + square / (2 * count)) / (1 + square / count);
  const half = (deviations / (1 + square / count)) * Math.sqrt((share * (1 - share)) / count + square / (4 * count ** 2));
  return { value: share, low: hits === 0 ? 0 : Math.max(0, centre - half), high: hits === count ? 1 : Math.min(1, centre + half) };
}

/**
 * How many times as common something is among one group as among another: the ratio of two shares with the interval of its
 * logarithm (Katz et al. 1978). Half a hit more on each side keeps it finite where there is none (Walter 1976).
 */
export function ratioOfShares(
  { hits, count }: { hits: number; count: number },
  other: { hits: number; count: number },
  deviations = of95Percent,
): Estimate {
  const value = (hits + 0.5) / (count + 0.5) / ((other.hits + 0.5) / (other.count + 0.5));
  const error = Math.sqrt(1 / (hits + 0.5) - 1 / (count + 0.5) + 1 / (other.hits + 0.5) - 1 / (other.count + 0.5));
  return { value, low: value * Math.exp(-deviations * error), high: value * Math.exp(deviations * error) };
}

/**
 * How many times as many events came in one window as in another of the same length. Given their sum, the later ones are
 * binomial, so the interval follows from the Wilson interval of their share.
 */
export function ratioOfCounts(now: number, before: number): Estimate {
  const { low, high } = shareOf(now, now + before);
  const odds = (share: number) => (share === 1 ? Number.POSITIVE_INFINITY : share / (1 - share));
  return { value: before === 0 ? Number.POSITIVE_INFINITY : now / before, low: odds(low), high: odds(high) };
}

/** Standard deviations for intervals that hold together with 95 % when `looks` of them are looked at (Bonferroni). */
export const deviationsForLooks = (looks: number): number => normalQuantile(1 - 0.025 / Math.max(1, looks));
