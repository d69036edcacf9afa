import { type Estimate, shareOf } from './share.ts';
import type { Part } from './sides.ts';

/**
 * Sums over persons from which it follows how surely a rate of sessions is known: of each person's sessions n and of those x of them
 * that ended badly.
 */
export interface PersonSums {
  readonly persons: number;
  /** Persons with x > 0. */
  readonly personsHit: number;
  /** Σ n². */
  readonly countSquares: number;
  /** Σ x·n. */
  readonly products: number;
  /** Σ x². */
  readonly hitSquares: number;
}

/**
 * The variance of the rate p = Σx/Σn of sessions, which come in clusters, a person each: that of a ratio of two sums by linearisation,
 * m/(m−1) · Σ(x − p·n)² / N² for m persons (Cochran 1977, Sampling Techniques, section 6.4; cluster-robust: Liang and Zeger 1986).
 * NaN where fewer than two persons have sessions.
 */
export function rateVariance({ hits, count }: Part, { persons, countSquares, products, hitSquares }: PersonSums): number {
  if (persons < 2 || count === 0) return Number.NaN;
  const p = hits / count;
  const squares = Math.max(0, hitSquares - 2 * p * products + p * p * countSquares);
  return ((persons / (persons - 1)) * squares) / count ** 2;
}

/** What the design effect is of apps of which little is known: that of most lies between 1.5 and 6. */
export const typicalEffect = 2;

/** How many crashed persons the usual design effect weighs as much as. */
const usualWeight = 15;

/**
 * The design effect (Kish 1965): how many times as large the variance of a rate is as that of independent sessions; never below 1. Few
 * crashed persons say little about it, so it is drawn towards the usual one, that of more sessions of the same app.
 */
export function designEffect(part: Part, sums: PersonSums, usual: number): number {
  const p = part.hits / part.count;
  const own = rateVariance(part, sums) / ((p * (1 - p)) / part.count);
  if (!Number.isFinite(own)) return Math.max(1, usual);
  return Math.max(1, (sums.personsHit * own + usualWeight * usual) / (sums.personsHit + usualWeight));
}

/**
 * The share of sessions that ended badly, with an interval that holds the truth in 95 of 100 cases though a person's sessions are alike:
 * Wilson's on the effective sample, the number of independent sessions that would say as much.
 */
export const shareOfSessions = ({ hits, count }: Part, effect: number): Estimate => shareOf(hits / effect, count / effect);
