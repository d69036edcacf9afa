import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compareShares, differenceOf } from './difference.ts';

describe('the difference of two shares', () => {
  // Newcombe 1998, table II, example (a): 56/70 against 48/80 gives 0.2000, 0.0524 to 0.3339 by method 10.
  it('has the interval of the paper', () => {
    const { value, low, high } = differenceOf({ hits: 56, count: 70 }, { hits: 48, count: 80 });
    expect([value, low, high].map((one) => one.toFixed(4))).toEqual(['0.2000', '0.0524', '0.3339']);
  });
  // The same table, example (d): 5/56 against 0/29 gives 0.0893, -0.0381 to 0.1926.
  it('and at the border', () => {
    const { low, high } = differenceOf({ hits: 5, count: 56 }, { hits: 0, count: 29 });
    expect([low, high].map((one) => one.toFixed(4))).toEqual(['-0.0381', '0.1926']);
  });

  it('lies in its interval, and turns round when the sides are changed', () => {
    const part = fc.tuple(fc.nat(2_000), fc.integer({ min: 1, max: 2_000 })).map(([hits, misses]) => ({ hits, count: hits + misses }));
    fc.assert(
      fc.property(part, part, (one, other) => {
        const there = differenceOf(one, other);
        const back = differenceOf(other, one);
        expect(there.low).toBeLessThanOrEqual(there.value + 1e-12);
        expect(there.high).toBeGreaterThanOrEqual(there.value - 1e-12);
        expect(back.low).toBeCloseTo(-there.high, 10);
      }),
    );
  });
});

describe('a comparison', () => {
  // Worked example of docs/calculations.md.
  it('is sure with many sessions', () => {
    const { verdict, difference } = compareShares({ hits: 150, count: 10_000 }, { hits: 80, count: 10_000 });
    expect(verdict).toBe('worse');
    expect([difference.value, difference.low, difference.high].map((one) => (1_000 * one).toFixed(2))).toEqual(['7.00', '4.06', '10.01']);
    expect(compareShares({ hits: 80, count: 10_000 }, { hits: 150, count: 10_000 }).verdict).toBe('better');
  });

  it('of ten sessions is too early, and says how many more it takes', () => {
    const { verdict, more } = compareShares({ hits: 3, count: 10 }, { hits: 80, count: 10_000 });
    expect(verdict).toBe('worse');
    expect(more).toBeNull();
    const early = compareShares({ hits: 1, count: 60 }, { hits: 80, count: 10_000 });
    expect(early.verdict).toBe('too-early');
    expect(early.more).toBeGreaterThan(100);
    expect(early.more).toBeLessThan(5_000);
  });

  it('tells the difference once there are as many as it asked for', () => {
    fc.assert(
      fc.property(fc.integer({ min: 5, max: 40 }), fc.integer({ min: 100, max: 2_000 }), (perThousand, count) => {
        const older = { hits: 1_000, count: 200_000 };
        const newer = { hits: Math.round((perThousand * count) / 1_000), count };
        const { more, verdict } = compareShares(newer, older);
        const seen = Math.abs(newer.hits / newer.count - older.hits / older.count);
        if (verdict !== 'too-early' || more === null || seen < 0.002) return;
        const grown = newer.count + more;
        // The number keeps room for chance, so at the very share that was seen it is more than enough.
        expect(compareShares({ hits: (newer.hits / newer.count) * grown, count: grown }, older).verdict).not.toBe('too-early');
      }),
    );
  });

  it('of what is all but equal says so, and asks for more surety when many are made together', () => {
    expect(compareShares({ hits: 5_000, count: 1_000_000 }, { hits: 5_010, count: 1_000_000 }).verdict).toBe('alike');
    const one = { hits: 130, count: 10_000 };
    const other = { hits: 100, count: 10_000 };
    expect(compareShares(one, other).verdict).toBe('worse');
    expect(compareShares(one, other, 500).verdict).toBe('too-early');
  });

  it('with nothing on one side says nothing', () => {
    expect(compareShares({ hits: 0, count: 0 }, { hits: 1, count: 10 })).toMatchObject({ verdict: 'too-early', more: null });
  });
});
