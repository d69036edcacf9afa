import { type Estimate, shareOf } from '../stability/share.ts';
import type { Part } from '../stability/sides.ts';

/** A session that was looked at. */
export interface LookedAt {
  readonly person: string;
  /** How many sessions of the scope it stands for. */
  readonly weight: number;
}

/**
 * The share of sessions of which something holds, among those of which another thing holds, where each that was looked at stands for
 * some others: all that crashed may have been looked at, and one in forty of the rest. Hits and misses are two independent counts, each
 * of as many as tell as much by persons and weights, (Σw)²/Σw² (Kish 1965, Survey Sampling, section 11.7), w being what all sessions of a
 * person stand for. Given their sum, the hits are binomial; the Wilson interval of their share is brought back to the scope by what a hit
 * and a miss stand for. So a way of which no good session was seen is not sure to end badly: one in forty may have been missed.
 */
export class WeighedShare {
  private readonly hits = new WeighedCount();
  private readonly misses = new WeighedCount();

  /** @param usualWeight what a session stands for of a kind of which none was seen; the most that any does, to be on the safe side */
  constructor(private readonly usualWeight: number) {}

  /** Adds a session of those that are counted; `isHit` when it holds of it. */
  add(session: LookedAt, isHit: boolean): void {
    (isHit ? this.hits : this.misses).add(session);
  }

  /** Sessions of which it holds, and that were counted, as estimated for the scope. */
  get part(): Part {
    return { hits: this.hits.sum, count: this.hits.sum + this.misses.sum };
  }

  get estimate(): Estimate {
    const [hits, misses] = [this.hits.independent, this.misses.independent];
    if (hits + misses === 0) return shareOf(0, 0);
    const { low, high } = shareOf(hits, hits + misses);
    const { hits: sum, count } = this.part;
    return { value: sum / count, low: this.inScope(low), high: this.inScope(high) };
  }

  /**
   * As many sessions as would tell the share as surely, were each of another person and stood for itself; of a kind of which none was seen
   * half a one is taken.
   */
  get independent(): Part {
    const [hits, misses] = [this.hits.independent || 0.5, this.misses.independent || 0.5];
    const share = this.inScope(hits / (hits + misses));
    const count = 1 / (share * (1 - share) * (1 / hits + 1 / misses));
    return { hits: share * count, count };
  }

  /** A share of the sessions that were looked at as one of the scope. */
  private inScope(share: number): number {
    const hits = share * (this.hits.each ?? this.usualWeight);
    const misses = (1 - share) * (this.misses.each ?? this.usualWeight);
    return hits / (hits + misses);
  }
}

/** Sessions of one kind, with what they stand for. */
class WeighedCount {
  sum = 0;
  private readonly persons = new Map<string, number>();

  add({ person, weight }: LookedAt): void {
    this.sum += weight;
    this.persons.set(person, (this.persons.get(person) ?? 0) + weight);
  }

  /** As many sessions of different persons, all alike, as tell as much. */
  get independent(): number {
    let squares = 0;
    for (const weight of this.persons.values()) squares += weight ** 2;
    return squares === 0 ? 0 : this.sum ** 2 / squares;
  }

  /** What each of those stands for; null where there are none. */
  get each(): number | null {
    return this.sum === 0 ? null : this.sum / this.independent;
  }
}

/** The most sessions that any stands for. */
export const heaviest = (sessions: readonly LookedAt[]): number => sessions.reduce((most, { weight }) => Math.max(most, weight), 1);
