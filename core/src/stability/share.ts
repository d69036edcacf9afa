import { normalQuantile, of95Percent } from './normal-quantile.ts';
import type { Part } from './sides.ts';

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
 * How many times as common something is among one group as among another: the ratio of two shares with its score interval (Miettinen and
 * Nurminen 1985, Statistics in Medicine 4, 213–226; Koopman 1984), which stays honest where all of three people share a value. What nobody
 * of the other group has is a thousand times as common at most.
 */
export function ratioOfShares(one: Part, other: Part, deviations = of95Percent): Estimate {
  const value = Math.min(mostTimes, one.hits / one.count / (other.hits / other.count));
  const isWithin = (ratio: number) => ratioScore(ratio, one, other) <= deviations ** 2;
  const seen = Number.isFinite(value) ? Math.max(value, 1 / mostTimes) : mostTimes;
  return {
    value: Number.isNaN(value) ? 1 : value,
    low: one.hits === 0 ? 0 : furthestWithin(isWithin, seen, 1 / mostTimes),
    high: furthestWithin(isWithin, seen, mostTimes),
  };
}

const mostTimes = 1_000;

/** The furthest ratio from the one seen towards a bound that is still within, to about 0.1 %. */
function furthestWithin(isWithin: (ratio: number) => boolean, seen: number, bound: number): number {
  if (isWithin(bound)) return bound;
  let [inside, outside] = [Math.log(seen), Math.log(bound)];
  while (Math.abs(outside - inside) > 0.001) {
    const middle = (inside + outside) / 2;
    if (isWithin(Math.exp(middle))) inside = middle;
    else outside = middle;
  }
  return Math.exp(inside);
}

/** The square of how many standard deviations the shares are off a ratio, at the likeliest shares that have it. */
function ratioScore(ratio: number, one: Part, other: Part): number {
  const count = one.count + other.count;
  const a = count * ratio;
  const b = -(ratio * (one.count + other.hits) + one.hits + other.count);
  const c = one.hits + other.hits;
  const p2 = Math.min(1, Math.max(0, (-b - Math.sqrt(Math.max(0, b * b - 4 * a * c))) / (2 * a)));
  const p1 = Math.min(1, ratio * p2);
  const variance = ((p1 * (1 - p1)) / one.count + (ratio ** 2 * p2 * (1 - p2)) / other.count) * (count / (count - 1));
  const off = one.hits / one.count - (ratio * other.hits) / other.count;
  return off === 0 ? 0 : off ** 2 / Math.max(variance, Number.MIN_VALUE);
}

/**
 * Events for one of what they are counted against, with the score interval of a Poisson count (Barker 2002, The American Statistician 56,
 * 85–89); `effect` is the design effect where events come by persons.
 */
export function rateOfCounts(events: number, per: number, effect = 1, deviations = of95Percent): Estimate {
  if (per === 0) return { value: Number.NaN, low: 0, high: Number.POSITIVE_INFINITY };
  const independent = events / effect;
  const square = deviations ** 2;
  const centre = independent + square / 2;
  const half = deviations * Math.sqrt(independent + square / 4);
  const scale = effect / per;
  return { value: events / per, low: events === 0 ? 0 : scale * (centre - half), high: scale * (centre + half) };
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
