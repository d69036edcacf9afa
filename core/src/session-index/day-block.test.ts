import fc from 'fast-check';
import { expect, it } from 'vitest';
import { wholeScope } from '../scope/scope.ts';
import { countMatrix } from './count-sessions.ts';
import { decodeDay, encodeDay } from './day-block.ts';
import type { PersonDay } from './person-day.ts';
import { SessionIndex } from './session-index.ts';

const anyRow: fc.Arbitrary<PersonDay> = fc.record({
  person: fc.uint8Array({ minLength: 8, maxLength: 8 }),
  isKnown: fc.boolean(),
  day: fc.integer({ min: 20_000, max: 20_002 }),
  excluded: fc.boolean(),
  inferred: fc.boolean(),
  sessions: fc.integer({ min: 1, max: 70_000 }),
  crashed: fc.nat(3),
  hung: fc.nat(2),
  killed: fc.nat(1),
  crashedAtStart: fc.nat(1),
  withErrors: fc.nat(4),
  activities: fc.record({
    screens: fc.array(fc.record({ name: fc.constantFrom('home', 'map'), count: fc.nat(9), part: fc.nat(2) }), { maxLength: 2 }),
    requests: fc.constant([]),
  }),
  values: fc
    .record({ version: fc.constantFrom('4.2.0', '4.10.0'), night: fc.constantFrom('on', 'off', '') })
    .map(({ version, night }) => [
      { field: 'version' as const, key: '', value: version },
      ...(night === '' ? [] : [{ field: 'flags' as const, key: 'night-map', value: night }]),
    ]),
});
const version = { field: 'version', key: '' } as const;
const flag = { field: 'flags', key: 'night-map' } as const;
const counted = (index: SessionIndex) => {
  const matrix = countMatrix(index, wholeScope, { first: 20_000, last: 20_002 }, version, flag);
  return { ...matrix, columns: [...matrix.columns].sort(), cells: matrix.cells.length };
};

it('a day that is kept and read back counts as before', () => {
  fc.assert(
    fc.property(fc.array(anyRow, { maxLength: 40 }), (rows) => {
      const index = new SessionIndex();
      for (const row of rows) index.add(row);
      const again = new SessionIndex();
      for (const day of [20_000, 20_001, 20_002]) {
        const read = decodeDay(encodeDay(index.blockOfDay(day)));
        if (!read.ok) throw new Error(read.problem.message);
        again.addBlock(read.value);
      }
      expect(counted(again)).toEqual(counted(index));
      expect(again.size).toBe(index.size);
    }),
  );
});

it('bytes that were damaged are read or refused, and never more than that', () => {
  const index = new SessionIndex();
  fc.assert(
    fc.property(anyRow, (row) => void index.add(row)),
    { numRuns: 30 },
  );
  const whole = encodeDay(index.blockOfDay(20_001));
  for (let length = 0; length < whole.length; length += 7) expect(decodeDay(whole.subarray(0, length)).ok).toBe(false);
  fc.assert(
    fc.property(fc.nat(whole.length - 1), fc.nat(255), (at, value) => {
      const damaged = whole.slice();
      damaged[at] = value;
      const read = decodeDay(damaged);
      if (read.ok) new SessionIndex().addBlock(read.value);
      else expect(read.problem.code).toBe('bad-block');
    }),
    { numRuns: 2_000 },
  );
});
