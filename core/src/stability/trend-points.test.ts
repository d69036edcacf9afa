import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { onlyCrashes } from './figures.ts';
import { type TrendDay, trendPoints } from './trend-points.ts';

const day = (sessions: number, crashed: number): TrendDay => ({ sessions, crashed, hung: 0, killed: 0, effect: 1 });
const rates = (...days: TrendDay[]) =>
  trendPoints(days, onlyCrashes).map((point) => (point === null ? null : Number(point.value.toFixed(2))));

describe('the points of a trend', () => {
  it('are those of the days where these have enough sessions', () =>
    expect(rates(day(1_000, 10), day(500, 10), day(2_000, 2))).toEqual([10, 20, 1]));

  it('take in the days before, so that a morning is no fall', () => {
    expect(rates(day(1_000, 10), day(4, 0))).toEqual([10, 9.96]);
    expect(rates(day(1_000, 10), day(1, 1))).toEqual([10, 10.99]);
  });

  it('are left out where nobody uses it, or too few for a week', () => {
    expect(rates(day(1_000, 10), day(0, 0))).toEqual([10, null]);
    expect(rates(...Array.from({ length: 9 }, () => day(20, 1)))).toEqual(Array(9).fill(null));
    expect(rates(...Array.from({ length: 9 }, () => day(40, 1))).slice(3)).toEqual([null, 25, 25, 25, 25, 25]);
  });

  it('lie in their intervals, whatever the days', () => {
    const anyDay = fc.tuple(fc.nat(900), fc.nat(20)).map(([good, crashed]) => ({ ...day(good + crashed, crashed), effect: 2.5 }));
    fc.assert(
      fc.property(fc.array(anyDay, { maxLength: 40 }), (days) => {
        const points = trendPoints(days, onlyCrashes);
        expect(points).toHaveLength(days.length);
        for (const point of points)
          if (point !== null) {
            expect(point.low).toBeLessThanOrEqual(point.value);
            expect(point.high).toBeGreaterThanOrEqual(point.value);
          }
      }),
    );
  });
});
