import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parseFilter } from '../scope/filter/parse-filter.ts';
import { daysSpanned, wholeScope } from '../scope/scope.ts';
import { sampleError } from './count-sessions.ts';
import { countPersonsByValue } from './persons-by-value.ts';
import { SessionIndex } from './session-index.ts';
import { anySession, indexOf, type OneSession, plainSession, toRow } from './testing/sessions.ts';
import { spanBefore, spanOf } from './window.ts';

const span = { first: 102, last: 105 };
/** Persons by field, name of the attribute and value. */
const told = ({ fields }: ReturnType<typeof countPersonsByValue>) =>
  Object.fromEntries(
    fields.flatMap(({ field, key, values }) =>
      values.filter(({ persons }) => persons > 0).map(({ value, persons }) => [`${field} ${key} ${value}`, persons]),
    ),
  );
const valuesOf = ({ version, device, layers }: OneSession) => [
  `version  ${version}`,
  ...(device === null ? [] : [`device.model  ${device}`]),
  ...layers.map((layer) => `attributes layers ${layer}`),
];

describe('persons by value', () => {
  it('are counted once for each value and each element of a list, as one who looks at every session', () => {
    fc.assert(
      fc.property(fc.array(anySession, { maxLength: 60 }), fc.nat(60), (sessions, settleAt) => {
        const own = sessions.filter((one) => one.day >= span.first && one.day <= span.last && !one.inferred);
        const persons = new Map<string, Set<number>>();
        for (const one of own) for (const value of valuesOf(one)) persons.set(value, (persons.get(value) ?? new Set()).add(one.person));
        const counted = countPersonsByValue(indexOf(sessions, settleAt), wholeScope, span);
        expect(counted.persons).toBe(new Set(own.map((one) => one.person)).size);
        expect(told(counted)).toEqual(Object.fromEntries([...persons].map(([value, of]) => [value, of.size])));
      }),
    );
  });

  it('are those of the scope, whatever a filter says of reports alone', () => {
    const filter = parseFilter('device.model = "Tarn Go 3" stack:tileFor');
    if (!filter.ok) throw new Error(filter.problem.message);
    fc.assert(
      fc.property(fc.array(anySession, { maxLength: 40 }), (sessions) => {
        const own = sessions.filter(
          (one) => one.day >= span.first && one.day <= span.last && !one.inferred && !one.excluded && one.device === 'Tarn Go 3',
        );
        const counted = countPersonsByValue(
          indexOf(sessions, 20),
          { versions: { match: 'any' }, builds: 'released', filter: filter.value },
          span,
        );
        expect(counted.persons).toBe(new Set(own.map((one) => one.person)).size);
        expect(Object.keys(told(counted)).filter((name) => name.startsWith('device.model'))).toEqual(
          own.length > 0 ? ['device.model  Tarn Go 3'] : [],
        );
      }),
    );
  });

  it('leave out sessions of nobody', () => {
    const index = indexOf([plainSession, { ...plainSession, isKnown: false, version: '4.3.0' }], 0);
    expect(countPersonsByValue(index, wholeScope, span)).toMatchObject({ sampling: 'everybody', persons: 1 });
    expect(told(countPersonsByValue(index, wholeScope, span))).toEqual({ 'version  4.2.0': 1 });
  });

  it('are estimated from the sample within its error', () => {
    const index = new SessionIndex();
    for (let person = 0; person < 20_000; person++)
      index.add({
        ...toRow({ ...plainSession, version: person % 4 === 0 ? '4.3.0' : '4.2.0' }),
        person: Uint8Array.of(1, 2, 3, 4, person & 255, person >> 8, 0, 0),
      });
    const counted = countPersonsByValue(index, wholeScope, span, { sampling: 'sample' });
    expect(counted.sampling).toBe('sample');
    expect(Math.abs(counted.persons / 20_000 - 1)).toBeLessThan(1.5 * sampleError(20_000));
    const values = told(counted);
    expect((values['version  4.2.0'] as number) + (values['version  4.3.0'] as number)).toBe(counted.persons);
    expect(Math.abs((values['version  4.3.0'] as number) / 5_000 - 1)).toBeLessThan(2 * sampleError(5_000));
  });

  it('of an empty index are none', () => {
    expect(countPersonsByValue(new SessionIndex(), wholeScope, span)).toEqual({ sampling: 'everybody', persons: 0, fields: [] });
  });
});

describe('the days of a scope', () => {
  const now = Date.UTC(2026, 4, 20, 23, 59, 59);
  const today = Date.UTC(2026, 4, 20) / 86_400_000;

  it('are today and those before it, and yesterday at the least', () => {
    expect(spanOf({ days: 1 }, now)).toEqual({ first: today - 1, last: today });
    expect(spanOf({ days: 7 }, now)).toEqual({ first: today - 6, last: today });
    expect(spanOf({ days: 7 }, now + 1_000)).toEqual({ first: today - 5, last: today + 1 });
  });

  it('follow upon as many, without a day between or in both', () => {
    for (const days of [1, 7, 14, 30, 90] as const) {
      const [own, before] = [spanOf({ days }, now), spanBefore({ days }, now)];
      expect(before).toEqual({ first: own.first - daysSpanned(days), last: own.first - 1 });
    }
  });

  it('are all days where it has no length, with none before', () => {
    expect(spanBefore({ days: null }, now)).toBeNull();
    const { first, last } = spanOf({ days: null }, now);
    expect([first, last > today + 10_000]).toEqual([0, true]);
  });
});
