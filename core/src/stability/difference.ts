import { normalQuantile, of95Percent } from './normal-quantile.ts';
import { type Estimate, shareOf } from './share.ts';

/** Some of a number: sessions that crashed of all sessions. */
export interface Part {
  readonly hits: number;
  readonly count: number;
}

/**
 * The difference of two shares, the first minus the second, with the interval of Newcombe (1998, method 10), which joins the
 * Wilson intervals of both.
 */
export function differenceOf(one: Part, other: Part, deviations = of95Percent): Estimate {
  const a = shareOf(one.hits, one.count, deviations);
  const b = shareOf(other.hits, other.count, deviations);
  const value = a.value - b.value;
  if (one.count === 0 || other.count === 0) return { value: Number.NaN, low: -1, high: 1 };
  return {
    value,
    low: value - Math.hypot(a.value - a.low, b.high - b.value),
    high: value + Math.hypot(a.high - a.value, b.value - b.low),
  };
}

/** What a comparison of two shares of something bad comes to. */
export type Verdict = 'better' | 'worse' | 'alike' | 'too-early';

export interface Comparison {
  /** The newer share minus the older one. */
  readonly difference: Estimate;
  readonly verdict: Verdict;
  /** How many more of the newer side it takes to tell, if the difference is what it looks like; null where that would not do. */
  readonly more: number | null;
}

/** Differences within this are not worth telling apart: half a session in a thousand. */
const indifferent = 0.0005;
/** With which probability the number that is asked for would do. */
const power = 0.8;

/** Compares a newer side with an older one; `looks` is the number of comparisons that are made together (Bonferroni). */
export function compareShares(newer: Part, older: Part, looks = 1): Comparison {
  const deviations = normalQuantile(1 - 0.025 / Math.max(1, looks));
  const difference = differenceOf(newer, older, deviations);
  if (difference.high < 0) return { difference, verdict: 'better', more: null };
  if (difference.low > 0) return { difference, verdict: 'worse', more: null };
  if (difference.low > -indifferent && difference.high < indifferent) return { difference, verdict: 'alike', more: null };
  return { difference, verdict: 'too-early', more: moreToTell(newer, older, deviations) };
}

/**
 * Solves for the size of the newer side at which a difference as large as the one seen would be told with the power above:
 * n = p·q / (d²/(z + z_power)² − p₀·q₀/n₀), the usual approximation by normal distributions.
 */
function moreToTell(newer: Part, older: Part, deviations: number): number | null {
  if (newer.count === 0 || older.count === 0) return null;
  const [p, p0] = [(newer.hits + 0.5) / (newer.count + 1), (older.hits + 0.5) / (older.count + 1)];
  const seen = Math.max(Math.abs(newer.hits / newer.count - older.hits / older.count), indifferent);
  const room = (seen / (deviations + normalQuantile(power))) ** 2 - (p0 * (1 - p0)) / older.count;
  if (room <= 0) return null;
  const wanted = Math.ceil((p * (1 - p)) / room);
  return wanted <= newer.count ? null : wanted - newer.count;
}
