import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compareSides } from './comparison.ts';
import { SidesTally } from './sides.ts';
import { StrataTally } from './strata.ts';

interface Row {
  readonly person: number;
  readonly stratum: number;
  readonly newer: readonly [bad: number, sessions: number];
  readonly older: readonly [bad: number, sessions: number];
}

function tallied(rows: readonly Row[]): StrataTally {
  const tally = new StrataTally();
  for (const { person, stratum, newer, older } of [...rows].sort((a, b) => a.person - b.person)) {
    if (newer[1] > 0) tally.add(person, stratum, 0, ...newer);
    if (older[1] > 0) tally.add(person, stratum, 2, ...older);
  }
  return tally;
}

describe('a difference within strata', () => {
  // Greenland and Robins 1985: the weighted mean of the strata's differences, here 10/100 − 5/100 and 4/200 − 2/50.
  it('is their weighted mean', () => {
    const rows: Row[] = [
      { person: 1, stratum: 7, newer: [10, 100], older: [0, 0] },
      { person: 2, stratum: 7, newer: [0, 0], older: [5, 100] },
      { person: 3, stratum: 9, newer: [4, 200], older: [0, 0] },
      { person: 4, stratum: 9, newer: [0, 0], older: [2, 50] },
    ];
    const [w1, w2] = [50, 40];
    expect(tallied(rows).standardised()).toMatchObject({
      value: expect.closeTo((w1 * 0.05 + w2 * -0.02) / (w1 + w2), 12),
      weight: 90,
      strata: 2,
      shareCompared: 1,
    });
  });

  it('is the plain one where there is one stratum, with the variance of the plain one', () => {
    const anySide = fc.nat(9).chain((n) => fc.tuple(fc.nat(n), fc.constant(n)));
    fc.assert(
      fc.property(fc.array(fc.tuple(anySide, anySide), { minLength: 2, maxLength: 30 }), (persons) => {
        const plain = new SidesTally();
        for (const [newer, older] of persons) plain.add(...newer, ...older);
        const { newer, older } = plain.sides;
        fc.pre(newer.count > 0 && older.count > 0);
        const within = tallied(persons.map(([one, other], person) => ({ person, stratum: 1, newer: one, older: other }))).standardised();
        const [p1, p2] = [newer.hits / newer.count, older.hits / older.count];
        const variance = persons.reduce(
          (sum, [[x1, n1], [x2, n2]]) => sum + ((x1 - p1 * n1) / newer.count - (x2 - p2 * n2) / older.count) ** 2,
          0,
        );
        expect(within?.value).toBeCloseTo(p1 - p2, 10);
        expect(within?.variance).toBeCloseTo(variance, 10);
      }),
    );
  });

  it('takes all strata of a person together', () => {
    const rows: Row[] = [
      { person: 1, stratum: 1, newer: [3, 3], older: [0, 10] },
      { person: 1, stratum: 2, newer: [0, 4], older: [0, 10] },
      { person: 2, stratum: 1, newer: [0, 7], older: [1, 5] },
      { person: 2, stratum: 2, newer: [0, 6], older: [0, 5] },
    ];
    const sums = (stratum: number) => {
      const own = rows.filter((row) => row.stratum === stratum);
      const add = (of: (row: Row) => number) => own.reduce((sum, row) => sum + of(row), 0);
      return [add((row) => row.newer[0]), add((row) => row.newer[1]), add((row) => row.older[0]), add((row) => row.older[1])] as [
        number,
        number,
        number,
        number,
      ];
    };
    const weights = [1, 2].map((stratum) => {
      const [, n1, , n2] = sums(stratum);
      return (n1 * n2) / (n1 + n2);
    });
    const influence = (person: number) =>
      rows
        .filter((row) => row.person === person)
        .reduce((sum, { stratum, newer, older }) => {
          const [x1, n1, x2, n2] = sums(stratum);
          const part = (newer[0] - (x1 / n1) * newer[1]) / n1 - (older[0] - (x2 / n2) * older[1]) / n2;
          return sum + ((weights[stratum - 1] as number) * part) / ((weights[0] as number) + (weights[1] as number));
        }, 0);
    expect(tallied(rows).standardised()?.variance).toBeCloseTo(influence(1) ** 2 + influence(2) ** 2, 12);
  });

  it('leaves out strata of one side, and says so', () => {
    const rows: Row[] = [
      { person: 1, stratum: 1, newer: [1, 30], older: [0, 0] },
      { person: 2, stratum: 2, newer: [1, 35], older: [2, 35] },
    ];
    expect(tallied(rows).standardised()).toMatchObject({ strata: 1, shareCompared: 0.7 });
    expect(tallied(rows.slice(0, 1)).standardised()).toBeNull();
  });

  it('decides the verdict where most sessions lie in strata of both sides', () => {
    // Newer phones come first, and crash less whatever the version.
    const plain = new SidesTally();
    const strata = new StrataTally();
    for (let person = 0; person < 12_000; person++) {
      const hasNewPhone = person % 2 === 0;
      const isNewer = hasNewPhone ? person % 8 !== 0 : person % 8 === 1;
      const crashes = Math.floor(person / 8) % (hasNewPhone ? 50 : 10) === 0 ? 1 : 0;
      if (isNewer) plain.add(crashes, 3, 0, 0);
      else plain.add(0, 0, crashes, 3);
      strata.add(person, hasNewPhone ? 1 : 2, isNewer ? 0 : 2, crashes, 3);
    }
    const { difference, standardised } = compareSides(plain.sides, 'once', strata.standardised());
    expect(difference.value).toBeLessThan(-0.002);
    expect(Math.abs(standardised?.value ?? 1)).toBeLessThan(Math.abs(difference.value));
    expect(compareSides(plain.sides, 'once', null).standardised).toBeNull();
  });
});
