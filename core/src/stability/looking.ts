import { of95Percent } from './normal-quantile.ts';

/**
 * How often somebody looks at a comparison: once, at a moment that does not depend on what is seen; or always, as at a rollout, where
 * one acts as soon as something shows.
 */
export type Looking = 'once' | 'always';

/** Standard deviations that an interval reaches below and above a difference. */
export interface Deviations {
  readonly below: number;
  readonly above: number;
}

/** With which probability somebody who always looks is ever told "worse", or "better", of two sides that are equal. */
export const errorWhenLooking = { worse: 0.04, better: 0.01 } as const;

/** Persons on the newer side at which the interval for looking always is the tightest: about those of the first steps of a rollout. */
const tightestAt = 1_500;

/**
 * How far the interval of a difference reaches that was looked at `looking`, with `persons` on the newer side: 95 % at one look, or
 * together at all looks. The latter is an asymptotic confidence sequence (Waudby-Smith, Arbour, Sinha, Kennedy, Ramdas 2024, Time-uniform
 * central limit theory and asymptotic confidence sequences, theorem 2.2), one for each end.
 */
export function deviationsFor(looking: Looking, persons: number): Deviations {
  if (looking === 'once') return { below: of95Percent, above: of95Percent };
  return { below: sequenceDeviations(persons, errorWhenLooking.worse), above: sequenceDeviations(persons, errorWhenLooking.better) };
}

/** A side of the two-sided sequence that errs with 2α in all errs with α. */
function sequenceDeviations(persons: number, error: number): number {
  const alpha = 2 * error;
  const spread = tightness(alpha) * persons;
  return Math.sqrt((1 + 1 / spread) * Math.log((spread + 1) / alpha ** 2));
}

/** ρ² of the sequence that is tightest at the size above: its equation 9. */
const tightness = (alpha: number): number => (-2 * Math.log(alpha) + Math.log(1 - 2 * Math.log(alpha))) / tightestAt;
