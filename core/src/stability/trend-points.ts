import type { Counts } from '../session-index/tally.ts';
import { type BadEnds, badSessions, enoughSessions, perThousand } from './figures.ts';
import type { Estimate } from './share.ts';

/** What of a day a trend is drawn of. */
export interface TrendDay extends Pick<Counts, 'sessions' | 'crashed' | 'hung' | 'killed'> {
  /** The design effect of its rate. */
  readonly effect: number;
}

/** Days that a point takes in at most. */
const longestStretch = 7;

/**
 * Bad ends for 1,000 sessions day by day. A day of few sessions takes in the days before it, until there are enough sessions to say
 * something: else a morning that has just begun, or the last of an old version, would be drawn as a fall or a peak. Null where a week does
 * not bring as many.
 */
export function trendPoints(days: readonly TrendDay[], badEnds: BadEnds): (Estimate | null)[] {
  return days.map((day, at) => {
    if (day.sessions === 0) return null;
    let sum = { hits: 0, count: 0 };
    let effect = 1;
    for (let from = at; from > at - longestStretch && from >= 0 && sum.count < enoughSessions; from--) {
      const own = days[from] as TrendDay;
      const { hits, count } = badSessions(own, badEnds);
      effect = sum.count + count === 0 ? 1 : (effect * sum.count + own.effect * count) / (sum.count + count);
      sum = { hits: sum.hits + hits, count: sum.count + count };
    }
    return sum.count < enoughSessions ? null : perThousand(sum, effect);
  });
}
