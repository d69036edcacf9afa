import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compareSides, differenceVariance, saysEnough } from './comparison.ts';
import { deviationsFor } from './looking.ts';
import { type Sides, SidesTally, sidesOfParts, sumOfSquares, swapped } from './sides.ts';

type Person = readonly [x1: number, n1: number, x2: number, n2: number];

function sidesOf(persons: readonly Person[]): Sides {
  const tally = new SidesTally();
  for (const person of persons) tally.add(...person);
  return tally.sides;
}
/** `count` persons with one session on each of two sides apart. */
const part = (hits: number, count: number) => ({ hits, count });

const anySide = fc.nat(12).chain((n) => fc.tuple(fc.nat(n), fc.constant(n)));
const anyPerson = fc.tuple(anySide, anySide).map(([[x1, n1], [x2, n2]]): Person => [x1, n1, x2, n2]);

describe('the variance of a difference', () => {
  it('is the sum of persons’ influences, as one adds them up who looks at each person', () => {
    fc.assert(
      fc.property(fc.array(anyPerson, { minLength: 2, maxLength: 40 }), (persons) => {
        const sides = sidesOf(persons);
        const { newer, older } = sides;
        fc.pre(newer.count > 0 && older.count > 0);
        const [p1, p2] = [newer.hits / newer.count, older.hits / older.count];
        const direct = persons.reduce(
          (sum, [x1, n1, x2, n2]) => sum + ((x1 - p1 * n1) / newer.count - (x2 - p2 * n2) / older.count) ** 2,
          0,
        );
        const combined = sumOfSquares(sides, [1 / newer.count, -p1 / newer.count, -1 / older.count, p2 / older.count]);
        expect(combined).toBeCloseTo(direct, 10);
        expect(differenceVariance(sides)).toBeGreaterThanOrEqual(direct - 1e-12);
      }),
    );
  });

  it('takes a person out as it took them in', () => {
    fc.assert(
      fc.property(fc.array(anyPerson, { maxLength: 20 }), anyPerson, (persons, one) => {
        const tally = new SidesTally();
        for (const person of [...persons, one]) tally.add(...person);
        tally.remove(...one);
        expect(tally.sides).toEqual(sidesOf(persons));
      }),
    );
  });

  // Worked example of docs/calculations.md: ten people with ten sessions each, one of whom crashed in all of them.
  it('of one who always crashes is ten times that of ten sessions of ten people', () => {
    const alone: Person[] = [[10, 10, 0, 0], ...Array.from({ length: 9 }, (): Person => [0, 10, 0, 0])];
    const others = Array.from({ length: 100 }, (): Person => [0, 0, 0, 1]);
    const independent = sidesOfParts(part(10, 100), part(0, 100));
    const influence = (sides: Sides) => sumOfSquares(sides, [1 / 100, -0.1 / 100, 0, 0]);
    expect(influence(sidesOf([...alone, ...others])) / influence(independent)).toBeCloseTo(10, 6);
  });
});

describe('a comparison', () => {
  // Worked example of docs/calculations.md.
  it('is sure with many sessions of many people', () => {
    const { verdict, difference } = compareSides(sidesOfParts(part(150, 10_000), part(80, 10_000)));
    expect(verdict).toBe('worse');
    expect([difference.value, difference.low, difference.high].map((one) => (1_000 * one).toFixed(2))).toEqual(['7.00', '4.04', '10.01']);
    expect(compareSides(sidesOfParts(part(80, 10_000), part(150, 10_000))).verdict).toBe('better');
    expect(compareSides(sidesOfParts(part(5_000, 1_000_000), part(5_010, 1_000_000))).verdict).toBe('alike');
  });

  it('asks for more where the sessions of a person are alike', () => {
    const clustered = sidesOfParts(part(130, 10_000), part(90, 10_000), 5);
    expect(compareSides(sidesOfParts(part(130, 10_000), part(90, 10_000))).verdict).toBe('worse');
    expect(compareSides(clustered).verdict).toBe('too-early');
  });

  it('asks for more of somebody who always looks, and does not speak of two hundred people or fewer', () => {
    const sides = sidesOfParts(part(125, 10_000), part(92, 10_000));
    expect(compareSides(sides, 'once').verdict).toBe('worse');
    expect(compareSides(sides, 'always').verdict).toBe('too-early');
    expect(compareSides(sidesOfParts(part(90, 199), part(100, 10_000)), 'always')).toMatchObject({
      verdict: 'too-early',
      detectable: null,
    });
    expect(compareSides(sidesOfParts(part(90, 250), part(100, 10_000)), 'always').verdict).toBe('worse');
  });

  it('says nothing where fewer than five crashed people would be expected', () => {
    expect(compareSides(sidesOfParts(part(3, 10), part(80, 10_000)))).toMatchObject({ verdict: 'too-early', detectable: null });
    expect(compareSides(sidesOfParts(part(0, 0), part(1, 10)))).toMatchObject({ verdict: 'too-early' });
  });

  it('too early to say names the difference that would show, and it does once it is there', () => {
    const { verdict, detectable } = compareSides(sidesOfParts(part(82, 10_000), part(80, 10_000)));
    expect(verdict).toBe('too-early');
    const more = Math.round(10_000 * (detectable as number));
    expect(compareSides(sidesOfParts(part(80 + more, 10_000), part(80, 10_000))).verdict).toBe('worse');
  });

  it('turns round when its sides are changed', () => {
    fc.assert(
      fc.property(fc.array(anyPerson, { minLength: 2, maxLength: 40 }), (persons) => {
        const sides = sidesOf(persons);
        fc.pre(sides.newer.count > 0 && sides.older.count > 0);
        // Many crashed on the newer side are enough to speak, however few were to be expected; on the older one they are not.
        fc.pre(saysEnough(sides, 'once') === saysEnough(swapped(sides), 'once'));
        const [there, back] = [compareSides(sides), compareSides(swapped(sides))];
        expect(back.difference.low).toBeCloseTo(-there.difference.high, 10);
        expect(back.difference.value).toBeCloseTo(-there.difference.value, 10);
        const opposite = { better: 'worse', worse: 'better', alike: 'alike', 'too-early': 'too-early' } as const;
        expect(back.verdict).toBe(opposite[there.verdict]);
        expect(there.difference.low).toBeLessThanOrEqual(there.difference.value + 1e-12);
        expect(there.difference.high).toBeGreaterThanOrEqual(there.difference.value - 1e-12);
      }),
    );
  });
});

describe('looking', () => {
  it('always reaches further than once, and further for "better" than for "worse"', () => {
    for (const persons of [1, 200, 1_500, 20_000, 5_000_000]) {
      const { below, above } = deviationsFor('always', persons);
      expect(below).toBeGreaterThan(deviationsFor('once', persons).below);
      expect(above).toBeGreaterThan(below);
    }
    expect(deviationsFor('always', 1_500).below).toBeCloseTo(2.86, 1);
  });
});
