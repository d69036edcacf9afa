import { expect, it } from 'vitest';
import { wholeScope } from '../scope/scope.ts';
import { countMatrix } from './count-sessions.ts';
import { SessionIndex } from './session-index.ts';
import { rowsByPerson, somePersons } from './session-rows.ts';
import { plainSession, toRow } from './testing/sessions.ts';

it('of many persons some stand for all, always the same ones, and say about as much', () => {
  const index = new SessionIndex();
  for (let person = 0; person < 8_000; person++)
    for (let day = 100; day < 104; day++)
      index.add({
        ...toRow({ ...plainSession, day }),
        person: Uint8Array.of(1, 2, 3, 4, person & 255, person >> 8, 0, 0),
        // Who crashes does so every day.
        crashed: person % 20 === 0 ? 1 : 0,
      });
  index.settle();
  const byPerson = rowsByPerson(index, 'everybody');
  const pick = () => somePersons(index, byPerson, 4_000);
  const chosen = Array.from({ length: 8_000 }, (_, person) => person).filter(pick().has);
  expect(pick().share).toBe(8);
  expect(chosen.length).toBeGreaterThan(800);
  expect(chosen.length).toBeLessThan(1_200);
  expect(Array.from({ length: 8_000 }, (_, person) => person).filter(pick().has)).toEqual(chosen);
  expect(somePersons(index, byPerson, 40_000).has(7)).toBe(true);
  // Four sessions of one kind each: the design effect is four, nearly.
  const { total } = countMatrix(index, wholeScope, { first: 100, last: 103 }, null, null);
  expect(total.effects.bad).toBeGreaterThan(3.5);
  expect(total.effects.bad).toBeLessThan(4.2);
});
