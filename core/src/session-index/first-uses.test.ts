import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { wholeScope } from '../scope/scope.ts';
import { countFirstUses } from './first-uses.ts';
import { anySession, indexOf } from './testing/sessions.ts';

const anyUse = fc.array(
  anySession.map((one) => ({ ...one, inferred: false })),
  { maxLength: 80 },
);
const span = { first: 100, last: 110 };

/** Every order that some values can have. */
const ordersOf = <Value>(values: readonly Value[]): Value[][] =>
  values.length === 0
    ? [[]]
    : values.flatMap((one, at) => ordersOf([...values.slice(0, at), ...values.slice(at + 1)]).map((others) => [one, ...others]));

describe('first uses', () => {
  it('are counted in days as by one who follows each person', () => {
    fc.assert(
      fc.property(anyUse, fc.nat(80), (sessions, settleAt) => {
        const [atRisk, met] = [Array<number>(30).fill(0), Array<number>(30).fill(0)];
        const inSpan = sessions.filter((one) => one.isKnown && one.day >= span.first && one.day <= span.last);
        for (const person of new Set(inSpan.map((one) => one.person))) {
          const own = inSpan.filter((one) => one.person === person);
          for (const [at, day] of [...new Set(own.map((one) => one.day))].sort((a, b) => a - b).entries()) {
            atRisk[at] = (atRisk[at] as number) + 1;
            if (!own.some((one) => one.day === day && one.end === 'crashed')) continue;
            met[at] = (met[at] as number) + 1;
            break;
          }
        }
        expect(countFirstUses(indexOf(sessions, settleAt), wholeScope, span).days).toEqual({ atRisk, met });
      }),
    );
  });

  it('are counted in sessions as by one who follows each person, on average over the orders that a day may have had', () => {
    const ofTwoPeople = fc.array(
      anySession.map((one) => ({ ...one, person: one.person % 2, day: 100 + (one.day % 3), inferred: false, isKnown: true })),
      { maxLength: 9 },
    );
    fc.assert(
      fc.property(ofTwoPeople, (sessions) => {
        const [atRisk, met] = [Array<number>(30).fill(0), Array<number>(30).fill(0)];
        for (const person of [0, 1]) {
          const days = [100, 101, 102].map((day) => sessions.filter((one) => one.person === person && one.day === day));
          const orders = days.reduce<boolean[][]>(
            (some, day) =>
              some.flatMap((before) => ordersOf(day.map((one) => one.end === 'crashed')).map((behind) => [...before, ...behind])),
            [[]],
          );
          for (const order of orders) {
            const end = order.includes(true) ? order.indexOf(true) + 1 : order.length;
            for (let at = 0; at < end; at++) atRisk[at] = (atRisk[at] as number) + 1 / orders.length;
            if (order.includes(true)) met[end - 1] = (met[end - 1] as number) + 1 / orders.length;
          }
        }
        const counted = countFirstUses(indexOf(sessions, 0), wholeScope, span).sessions;
        atRisk.forEach((one, at) => {
          expect(counted.atRisk[at]).toBeCloseTo(one, 9);
          expect(counted.met[at]).toBeCloseTo(met[at] as number, 9);
        });
      }),
      { numRuns: 60 },
    );
  });
});
