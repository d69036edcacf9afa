import { describe, expect, it } from 'vitest';
import { skewedScore, verdictsOfMany } from './discoveries.ts';
import { sidesOfParts } from './sides.ts';

const cell = (hits: number, count = 1_000) => sidesOfParts({ hits, count }, { hits: 1_000, count: 100_000 });

describe('verdicts of many', () => {
  it('mark what is far off, and ask for more where little else is', () => {
    const quiet = Array.from({ length: 200 }, (_, at) => cell(10 + (at % 3) - 1));
    expect(verdictsOfMany([cell(40), ...quiet])[0]).toBe('worse');
    expect(verdictsOfMany([cell(21)])[0]).toBe('worse');
    expect(verdictsOfMany([cell(21), ...quiet])[0]).toBe('too-early');
    // Among many that are off it is one of them.
    expect(verdictsOfMany([cell(21), ...Array.from({ length: 200 }, () => cell(40))])[0]).toBe('worse');
  });

  it('never come from a handful, however bad it looks', () => {
    expect(verdictsOfMany([sidesOfParts({ hits: 3, count: 3 }, { hits: 1_000, count: 100_000 })])).toEqual(['too-early']);
    expect(verdictsOfMany([])).toEqual([]);
  });

  it('say better, and alike, too', () => {
    expect(verdictsOfMany([sidesOfParts({ hits: 100, count: 50_000 }, { hits: 1_000, count: 100_000 })])).toEqual(['better']);
    expect(verdictsOfMany([sidesOfParts({ hits: 10_000, count: 1_000_000 }, { hits: 10_010, count: 1_000_000 })])).toEqual(['alike']);
  });
});

describe('a score', () => {
  // Exact tails of the Poisson distribution with mean 5: P(X ≥ 14) = 0.00070, P(X ≤ 0) = 0.0067; as normal quantiles 3.19 and −2.47.
  it('is that of a Poisson number far out', () => {
    const rare = (hits: number) => sidesOfParts({ hits, count: 500 }, { hits: 1_000_000 - hits, count: 99_999_500 });
    expect(skewedScore(rare(14))).toBeGreaterThan(3.05);
    expect(skewedScore(rare(14))).toBeLessThan(3.25);
    expect(skewedScore(rare(0))).toBeLessThan(-2.3);
    expect(skewedScore(rare(0))).toBeGreaterThan(-2.6);
  });
});
