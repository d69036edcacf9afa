import fc from 'fast-check';
import { expect, it } from 'vitest';
import { quartilesOf } from './quartiles.ts';

it('of nothing there are none', () => expect(quartilesOf([])).toBeNull());

it('of one number all are that', () => expect(quartilesOf([7])).toEqual({ lower: 7, median: 7, upper: 7 }));

// Worked example of docs/calculations.md.
it('lie between the numbers next to them', () =>
  expect(quartilesOf([90, 2, 12, 300, 30, 45])).toEqual({ lower: 16.5, median: 37.5, upper: 78.75 }));

it('do not depend on the order, and leave a quarter on either side', () => {
  fc.assert(
    fc.property(fc.array(fc.nat(100_000), { minLength: 1, maxLength: 60 }), (numbers) => {
      const found = quartilesOf(numbers);
      expect(quartilesOf([...numbers].reverse())).toEqual(found);
      if (!found) return;
      expect(numbers.filter((one) => one <= found.lower).length).toBeGreaterThanOrEqual(Math.floor(numbers.length / 4));
      expect(numbers.filter((one) => one >= found.upper).length).toBeGreaterThanOrEqual(Math.floor(numbers.length / 4));
      expect(found.lower <= found.median && found.median <= found.upper).toBe(true);
    }),
  );
});
