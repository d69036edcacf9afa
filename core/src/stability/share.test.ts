import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { normalQuantile } from './normal-quantile.ts';
import { deviationsForLooks, ratioOfCounts, ratioOfShares, shareOf } from './share.ts';

describe('the normal quantile', () => {
  it.each([
    [0.5, 0],
    [0.975, 1.959963984540054],
    [0.995, 2.5758293035489],
    [0.0001, -3.719016485455709],
  ])('at %d', (p, quantile) => {
    expect(normalQuantile(p)).toBeCloseTo(quantile, 7);
  });
});

describe('a share', () => {
  // Worked example: 10 of 50, z = 1.96: (0.2 + 0.0384) / 1.0768 ± …
  it('has its Wilson interval', () => {
    const { value, low, high } = shareOf(10, 50);
    expect([value, low, high].map((one) => one.toFixed(4))).toEqual(['0.2000', '0.1124', '0.3304']);
  });

  it('of nothing may be anything', () => {
    expect(shareOf(0, 0)).toEqual({ value: Number.NaN, low: 0, high: 1 });
  });

  it('lies in its interval, which lies from 0 to 1', () => {
    fc.assert(
      fc.property(fc.nat(5000), fc.nat(5000), (hits, misses) => {
        fc.pre(hits + misses > 0);
        const { value, low, high } = shareOf(hits, hits + misses);
        expect(low).toBeGreaterThanOrEqual(0);
        expect(low).toBeLessThanOrEqual(value);
        expect(high).toBeGreaterThanOrEqual(value);
        expect(high).toBeLessThanOrEqual(1);
      }),
    );
  });
});

describe('a ratio', () => {
  it('of shares is sure with many and unsure with few', () => {
    const many = ratioOfShares({ hits: 80, count: 100 }, { hits: 200, count: 1000 });
    expect(many.value).toBeCloseTo(4, 1);
    expect(many.low).toBeGreaterThan(3);
    const few = ratioOfShares({ hits: 2, count: 3 }, { hits: 1, count: 5 });
    expect(few.low).toBeLessThan(1);
  });

  it('of shares stays finite where nobody has it', () => {
    const { value, low, high } = ratioOfShares({ hits: 5, count: 5 }, { hits: 0, count: 100 });
    expect([value, low, high].every(Number.isFinite)).toBe(true);
  });

  it('of counts holds 1 when both are alike, and not when one is far off', () => {
    const alike = ratioOfCounts(52, 48);
    expect(alike.low).toBeLessThan(1);
    expect(alike.high).toBeGreaterThan(1);
    expect(ratioOfCounts(90, 30).low).toBeGreaterThan(1);
    expect(ratioOfCounts(3, 0)).toMatchObject({ value: Number.POSITIVE_INFINITY, high: Number.POSITIVE_INFINITY });
  });

  it('of counts has the interval that the documentation names', () => {
    const { value, low, high } = ratioOfCounts(60, 20);
    expect([value, low, high].map((one) => one.toFixed(1))).toEqual(['3.0', '1.8', '5.0']);
    expect(ratioOfCounts(6, 3).low).toBeLessThan(1);
  });

  it('is asked for more surely the more of them are looked at', () => {
    expect(deviationsForLooks(1)).toBeCloseTo(1.96, 2);
    expect(deviationsForLooks(100)).toBeGreaterThan(3.4);
  });
});
