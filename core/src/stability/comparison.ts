import { type Deviations, deviationsFor, type Looking } from './looking.ts';
import { normalQuantile } from './normal-quantile.ts';
import { designEffect } from './session-rate.ts';
import { type Estimate, shareOf } from './share.ts';
import { type SideSums, type Sides, sumOfSquares } from './sides.ts';
import type { Standardised } from './strata.ts';

/** What a comparison of two shares of something bad comes to. */
export type Verdict = 'better' | 'worse' | 'alike' | 'too-early';

/** How two sides differ, by sessions or by persons that ended badly. */
export interface Comparison {
  readonly newer: SideSums;
  readonly older: SideSums;
  /** The newer share minus the older one. */
  readonly difference: Estimate;
  /** The same within strata such as systems and devices; null where there are none, or too little lies in those that both sides have. */
  readonly standardised: Estimate | null;
  /** What the standardised difference says, where there is one. */
  readonly verdict: Verdict;
  /** The smallest difference that would be told by now, four times in five; null before anything could be. */
  readonly detectable: number | null;
}

/** Differences within this are not worth telling apart: half a session in a thousand. */
const indifferent = 0.0005;
/** With which probability the difference that is named would be told. */
const power = 0.8;
/** Fewer crashed persons than this on a side, were both alike, and nothing is said: the distribution of so few is not normal. */
const leastExpectedHit = 5;
/** So many crashed persons on the newer side are enough, however few were to be expected: it must be told when every other start crashes. */
const manyHit = 15;
/** Fewer persons than this on the newer side, and who always looks is told nothing. */
const leastPersonsLooking = 200;

/** The share of sessions that must lie in strata which both sides have, for those to stand for all. */
const leastShareCompared = 0.8;

/** Compares a newer side with an older one, for somebody who looks `looking`. */
export function compareSides(sides: Sides, looking: Looking = 'once', within: Standardised | null = null): Comparison {
  const { newer, older } = sides;
  const deviations = deviationsFor(looking, newer.persons);
  const difference = differenceOfSides(sides, deviations);
  const standardised =
    within && within.strata > 1 && within.shareCompared >= leastShareCompared ? differenceWithin(sides, within, deviations) : null;
  const told = { newer, older, difference, standardised };
  if (!saysEnough(sides, looking)) return { ...told, verdict: 'too-early', detectable: null };
  const detectable = (deviations.below + normalQuantile(power)) * Math.sqrt(differenceVariance(sides));
  return { ...told, verdict: verdictOf(standardised ?? difference), detectable };
}

/** The difference within strata, its variance never less than what both sides together let expect there. */
function differenceWithin(sides: Sides, { value, variance, weight }: Standardised, { below, above }: Deviations): Estimate {
  const { newer, older } = sides;
  const p = (newer.hits + older.hits) / (newer.count + older.count);
  const error = Math.sqrt(Math.max(variance, (pooledEffect(sides) * p * (1 - p)) / weight));
  return { value, low: Math.max(-1, value - below * error), high: Math.min(1, value + above * error) };
}

/** What an interval of a difference says. */
export function verdictOf({ low, high }: Pick<Estimate, 'low' | 'high'>): Verdict {
  if (high < 0) return 'better';
  if (low > 0) return 'worse';
  return low > -indifferent && high < indifferent ? 'alike' : 'too-early';
}

/** Whether there are so many crashed persons, and persons, that a verdict may be given. */
export function saysEnough({ newer, older }: Pick<Sides, 'newer' | 'older'>, looking: Looking): boolean {
  const hit = newer.personsHit + older.personsHit;
  const expected = (hit * Math.min(newer.count, older.count)) / (newer.count + older.count);
  return (expected >= leastExpectedHit || newer.personsHit >= manyHit) && (looking === 'once' || newer.persons >= leastPersonsLooking);
}

/**
 * The variance of the difference of two rates: the sum over persons of their influence squared, φ = (x₁ − p₁n₁)/N₁ − (x₂ − p₂n₂)/N₂,
 * which holds for persons on both sides too; and never less than what both sides together let expect. Early on the few who have the new
 * version may all look harmless: their heavy users have not crashed yet.
 */
export function differenceVariance(sides: Sides): number {
  const { newer, older } = sides;
  const [p1, p2] = [newer.hits / newer.count, older.hits / older.count];
  const influence = sumOfSquares(sides, [1 / newer.count, -p1 / newer.count, -1 / older.count, p2 / older.count]);
  const p = (newer.hits + older.hits) / (newer.count + older.count);
  return Math.max(influence, pooledEffect(sides) * p * (1 - p) * (1 / newer.count + 1 / older.count));
}

/** The design effect of both sides together: each person with all their sessions. */
function pooledEffect(sides: Sides): number {
  const { newer, older } = sides;
  const count = newer.count + older.count;
  const p = (newer.hits + older.hits) / count;
  if (p === 0 || p === 1) return 1;
  return Math.max(1, sumOfSquares(sides, [1, -p, 1, -p]) / (count * p * (1 - p)));
}

/**
 * The difference with its interval, which joins those of both rates (MOVER: Zou and Donner 2008), Wilson's on their effective samples,
 * so that it is right at small counts; never narrower than the normal interval of the variance above.
 */
function differenceOfSides(sides: Sides, { below, above }: Deviations): Estimate {
  const { newer, older } = sides;
  if (newer.count === 0 || older.count === 0) return { value: Number.NaN, low: -1, high: 1 };
  const usual = pooledEffect(sides);
  const [effect1, effect2] = [effectOf(sides, 0, usual), effectOf(sides, 2, usual)];
  const error = Math.sqrt(differenceVariance(sides));
  const reach = (deviations: number, side: 'low' | 'high') => {
    const a = shareOf(newer.hits / effect1, newer.count / effect1, deviations);
    const b = shareOf(older.hits / effect2, older.count / effect2, deviations);
    const joined = side === 'low' ? Math.hypot(a.value - a.low, b.high - b.value) : Math.hypot(a.high - a.value, b.value - b.low);
    return Math.max(joined, deviations * error);
  };
  const value = newer.hits / newer.count - older.hits / older.count;
  return { value, low: Math.max(-1, value - reach(below, 'low')), high: Math.min(1, value + reach(above, 'high')) };
}

/** The design effect of the newer side, never less than that of both together. */
export function effectOfNewer(sides: Sides): number {
  const usual = pooledEffect(sides);
  return Math.max(usual, effectOf(sides, 0, usual));
}

/** The design effect of one side, whose bad sessions stand at `place` of the products' order. */
function effectOf({ newer, older, products }: Sides, place: 0 | 2, usual: number): number {
  const side = place === 0 ? newer : older;
  const [hitSquares, crossed, countSquares] = (place === 0 ? [0, 1, 4] : [7, 8, 9]).map((at) => products[at] as number);
  const sums = { ...side, hitSquares: hitSquares as number, products: crossed as number, countSquares: countSquares as number };
  return designEffect(side, sums, usual);
}
