import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { designEffect, type PersonSums, rateVariance, shareOfSessions } from './session-rate.ts';

type Person = readonly [bad: number, sessions: number];

const sumsOf = (persons: readonly Person[]): PersonSums => {
  const sum = (of: (person: Person) => number) => persons.reduce((all, person) => all + of(person), 0);
  return {
    persons: persons.length,
    personsHit: persons.filter(([x]) => x > 0).length,
    countSquares: sum(([, n]) => n * n),
    products: sum(([x, n]) => x * n),
    hitSquares: sum(([x]) => x * x),
  };
};
const partOf = (persons: readonly Person[]) => ({
  hits: persons.reduce((all, [x]) => all + x, 0),
  count: persons.reduce((all, [, n]) => all + n, 0),
});

describe('the variance of a rate', () => {
  it('is that of the ratio of two sums over persons', () => {
    const anyPerson = fc.integer({ min: 1, max: 20 }).chain((n) => fc.tuple(fc.nat(n), fc.constant(n)));
    fc.assert(
      fc.property(fc.array(anyPerson, { minLength: 2, maxLength: 40 }), (persons) => {
        const part = partOf(persons);
        const p = part.hits / part.count;
        const m = persons.length;
        const direct = ((m / (m - 1)) * persons.reduce((sum, [x, n]) => sum + (x - p * n) ** 2, 0)) / part.count ** 2;
        expect(rateVariance(part, sumsOf(persons))).toBeCloseTo(direct, 10);
      }),
    );
  });

  it('is not known of one person', () => expect(rateVariance({ hits: 1, count: 3 }, sumsOf([[1, 3]]))).toBeNaN());
});

describe('the design effect', () => {
  it('is 1 of people with one session each, and nearly their number of sessions where one crashes always', () => {
    const independent = Array.from({ length: 2_000 }, (_, at): Person => [at % 10 === 0 ? 1 : 0, 1]);
    expect(designEffect(partOf(independent), sumsOf(independent), 1)).toBeCloseTo(1, 2);
    const alike = Array.from({ length: 2_000 }, (_, at): Person => [at % 10 === 0 ? 8 : 0, 8]);
    expect(designEffect(partOf(alike), sumsOf(alike), 8)).toBeCloseTo(8, 1);
  });

  it('is the usual one where nobody crashed, and drawn towards it where few did', () => {
    const none = Array.from({ length: 30 }, (): Person => [0, 4]);
    expect(designEffect(partOf(none), sumsOf(none), 3.3)).toBe(3.3);
    const few: Person[] = [[4, 4], ...none];
    const own = designEffect(partOf(few), sumsOf(few), 1);
    expect(designEffect(partOf(few), sumsOf(few), 3.3)).toBeGreaterThan(own);
    expect(designEffect({ hits: 0, count: 0 }, sumsOf([]), 0)).toBe(1);
  });

  it('widens the interval', () => {
    const [narrow, wide] = [1, 4].map((effect) => shareOfSessions({ hits: 40, count: 4_000 }, effect));
    expect(wide?.value).toBe(narrow?.value);
    expect((wide?.high ?? 0) - (wide?.low ?? 0)).toBeGreaterThan(1.8 * ((narrow?.high ?? 1) - (narrow?.low ?? 0)));
  });
});
