import { describe, expect, it } from 'vitest';
import { freeInFirstUses } from './survival.ts';

describe('people free of crashes in their first uses', () => {
  // Worked example of docs/calculations.md.
  const use = { atRisk: [1_000, 600, 400], met: [10, 6, 8] };

  it('are the product of those who got through each', () => {
    expect(freeInFirstUses(use, 1)?.value).toBeCloseTo(0.99, 12);
    expect(freeInFirstUses(use, 3)?.value).toBeCloseTo(0.99 * 0.99 * 0.98, 12);
  });

  it('have an interval that grows with the uses, and lies between nobody and all', () => {
    const [one, three] = [1, 3].map((days) => freeInFirstUses(use, days));
    const width = (of: typeof one) => (of?.high ?? 0) - (of?.low ?? 0);
    expect(width(three)).toBeGreaterThan(width(one));
    expect(one?.low).toBeCloseTo(0.9815, 3);
    expect(one?.high).toBeCloseTo(0.9946, 3);
    expect(freeInFirstUses({ atRisk: [60], met: [0] }, 1)).toEqual({ value: 1, low: 0.95, high: 1 });
  });

  it('are not told where few got so far', () => {
    expect(freeInFirstUses({ atRisk: [100, 29], met: [1, 0] }, 2)).toBeNull();
    expect(freeInFirstUses({ atRisk: [], met: [] }, 1)).toBeNull();
  });
});
