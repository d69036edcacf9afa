import type { Counts } from '../session-index/tally.ts';
import { type BadEnds, badSessions } from './figures.ts';
import { deviationsFor } from './looking.ts';
import { type Estimate, shareOf } from './share.ts';
import type { Part } from './sides.ts';

/** A share of sessions with the interval that holds however often somebody looks at it; `effect` is the design effect. */
export function shareLookedAt({ hits, count }: Part, { counts, effect }: { counts: Counts; effect: number }): Estimate {
  const { below, above } = deviationsFor('always', Math.max(1, counts.persons));
  const of = (deviations: number) => shareOf(hits / effect, count / effect, deviations);
  return { value: of(above).value, low: of(below).low, high: of(above).high };
}

/** The share of sessions without a bad end, likewise. `counts` must be counted for these bad ends. */
export function freeLookedAt(counts: Counts, badEnds?: BadEnds): Estimate {
  const bad = shareLookedAt(badSessions(counts, badEnds), { counts, effect: counts.effects.bad });
  return { value: 1 - bad.value, low: 1 - bad.high, high: 1 - bad.low };
}
