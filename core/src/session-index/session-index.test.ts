import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parseFilter } from '../scope/filter/parse-filter.ts';
import { type Scope, wholeScope } from '../scope/scope.ts';
import { versionSortKey } from '../version/version-order.ts';
import { countDailySessions, countInferred, countMatrix, sampleError } from './count-sessions.ts';
import { SessionIndex } from './session-index.ts';
import { type Counts, noCounts, type Sums } from './tally.ts';
import { anySession, indexOf, keyOf, type OneSession, plainSession, toRow } from './testing/sessions.ts';

/** The same counts by looking at every session. */
function counted(sessions: readonly OneSession[], all: readonly OneSession[], first: number): Sums {
  const persons = (of: readonly OneSession[]) => new Set(of.filter((one) => one.isKnown).map((one) => one.person)).size;
  const ending = (end: OneSession['end']) => sessions.filter((one) => one.end === end);
  const isNew = (one: OneSession) =>
    !all.some((other) => other.isKnown && !other.inferred && other.person === one.person && other.day < first);
  return {
    sessions: sessions.length,
    crashed: ending('crashed').length,
    hung: ending('hung').length,
    killed: ending('killed').length,
    crashedAtStart: ending('crashed').filter((one) => one.atStart).length,
    withErrors: 0,
    persons: persons(sessions),
    personsCrashed: persons(ending('crashed')),
    personsHung: persons(ending('hung')),
    personsKilled: persons(ending('killed')),
    newPersons: persons(sessions.filter(isNew)),
  };
}

/** What was counted, without how sure it is. */
const sumsOf = ({ effects: _, ...sums }: Counts): Sums => sums;

const scopes: readonly (readonly [string, Partial<Scope>, (one: OneSession) => boolean])[] = [
  ['all', {}, () => true],
  ['released', { builds: 'released' }, (one) => !one.excluded],
  ['excluded', { builds: 'excluded' }, (one) => one.excluded],
  ['4.3.0 and later', { versions: { match: 'from', version: '4.3.0' } }, (one) => versionSortKey(one.version) >= versionSortKey('4.3.0')],
  ['a device, or none told', filtered('NOT device.model = "Tarn Go 3"'), (one) => one.device !== 'Tarn Go 3'],
  ['an element of a list', filtered('attributes.layers = sightings'), (one) => one.layers.includes('sightings')],
  ['either', filtered('version < 4.3.0 OR attributes.layers:*'), (one) => one.version === '4.2.0' || one.layers.length > 0],
  ['what sessions do not tell', filtered('stack:Tiles device.model = "Brill 6a"'), (one) => one.device === 'Brill 6a'],
];

function filtered(text: string): Pick<Scope, 'filter'> {
  const parsed = parseFilter(text);
  if (!parsed.ok) throw new Error(parsed.problem.message);
  return { filter: parsed.value };
}

const span = { first: 102, last: 105 };
const inSpan = (one: OneSession) => one.day >= span.first && one.day <= span.last;
const version = { field: 'version', key: '' } as const;
const device = { field: 'device.model', key: '' } as const;

describe('sessions in memory', () => {
  it.each(scopes)('are counted as one who looks at each of them: %s', (_, part, fits) => {
    const scope: Scope = { ...wholeScope, ...part };
    fc.assert(
      fc.property(fc.array(anySession, { maxLength: 60 }), fc.nat(60), (sessions, settleAt) => {
        const index = indexOf(sessions, settleAt);
        const wanted = sessions.filter((one) => inSpan(one) && fits(one) && !one.inferred);
        const of = (part: readonly OneSession[]) => counted(part, sessions, span.first);
        const matrix = countMatrix(index, scope, span, version, device);
        expect(sumsOf(matrix.total)).toEqual(of(wanted));
        const inferred = of(sessions.filter((one) => inSpan(one) && fits(one) && one.inferred));
        expect(countInferred(index, scope, span)).toEqual({ crashed: inferred.crashed, hung: inferred.hung, killed: inferred.killed });
        expect(matrix.rows).toEqual(['4.2.0', '4.3.0', '4.10.0'].filter((name) => wanted.some((one) => one.version === name)));
        matrix.rows.forEach((name, row) => {
          expect(sumsOf(matrix.ofRows[row] as Counts)).toEqual(of(wanted.filter((one) => one.version === name)));
          matrix.columns.forEach((model, column) => {
            const own = wanted.filter((one) => one.version === name && (one.device ?? '') === model);
            expect(sumsOf(matrix.cells[row * matrix.columns.length + column] as Counts)).toEqual(
              own.length === 0 ? sumsOf(noCounts) : of(own),
            );
          });
        });
        const course = countDailySessions(index, scope, span, version);
        expect(course.total).toEqual(matrix.total);
        expect(course.sums).toEqual(matrix.ofRows);
        course.values.forEach((name, at) => {
          course.days[at]?.forEach((day, offset) => {
            const own = wanted.filter((one) => one.version === name && one.day === span.first + offset);
            expect({ ...sumsOf(day), newPersons: 0 }).toEqual({ ...of(own), newPersons: 0 });
          });
        });
      }),
      { numRuns: 60 },
    );
  });

  it('take what a person did on a day in place of what was known, in any order and however often', () => {
    const anyDay = fc.record({ person: fc.nat(5), day: fc.integer({ min: 100, max: 103 }) });
    const anyChange = fc.tuple(anyDay, fc.array(anySession, { maxLength: 3 }));
    fc.assert(
      fc.property(fc.array(anyChange, { maxLength: 40 }), fc.nat(40), (changes, settleAt) => {
        const index = new SessionIndex();
        const known = new Map<string, OneSession[]>();
        changes.forEach(([{ person, day }, drawn], at) => {
          const sessions = drawn.map((one) => ({ ...one, person, day }));
          known.set(`${person} ${day}`, sessions);
          index.replace(keyOf(person, true), day, sessions.map(toRow));
          if (at === settleAt) index.settle();
        });
        const all = [...known.values()].flat();
        const whole = { first: 101, last: 103 };
        const wanted = all.filter((one) => one.day >= whole.first && !one.inferred);
        const matrix = countMatrix(index, wholeScope, whole, null, null);
        expect(sumsOf(matrix.total)).toEqual(counted(wanted, all, whole.first));
        expect(index.size).toBe(all.length);
      }),
    );
  });

  it('are estimated from a sample of persons, with what went wrong counted of everybody', () => {
    const index = new SessionIndex();
    for (let person = 0; person < 20_000; person++)
      for (let day = 102; day < 104; day++)
        index.add({
          ...toRow({ ...plainSession, day }),
          person: Uint8Array.of(1, 2, 3, 4, person & 255, person >> 8, 0, 0),
          crashed: person % 100 === 0 ? 1 : 0,
        });
    for (const settles of [false, true]) {
      if (settles) index.settle();
      const { total, sampling } = countMatrix(index, wholeScope, span, version, null, { sampling: 'sample' });
      expect(sampling).toBe('sample');
      expect(total).toMatchObject({ crashed: 400, personsCrashed: 200 });
      expect(Math.abs(total.persons / 20_000 - 1)).toBeLessThan(1.5 * sampleError(20_000));
      expect(total.sessions).toBe(2 * total.persons);
    }
  });

  it('count sessions of nobody, but no person for them', () => {
    const index = new SessionIndex();
    for (const person of [1, 2]) index.add(toRow({ ...plainSession, person, isKnown: false, end: 'crashed' }));
    expect(countMatrix(index, wholeScope, span, null, null).total).toMatchObject({
      sessions: 2,
      crashed: 2,
      persons: 0,
      personsCrashed: 0,
    });
  });

  it('hold more of a kind than one row can count', () => {
    const index = new SessionIndex();
    index.add({
      ...toRow(plainSession),
      sessions: 200_001,
      crashed: 70_000,
    });
    expect(countMatrix(index, wholeScope, span, null, null).total).toMatchObject({ sessions: 200_001, crashed: 70_000, persons: 1 });
  });

  it('of versions whose names mean the same are counted together, under the commonest name', () => {
    const sessions = ['4.3.0', '4.3.0', 'v4.3', '4.2.0'].map((version, person) => ({ ...plainSession, person, version }));
    const index = indexOf(sessions as unknown as OneSession[], 0);
    const matrix = countMatrix(index, wholeScope, { first: 0, last: 60_000 }, version, null);
    expect(matrix.rows.map((name, row) => [name, matrix.ofRows[row]?.sessions])).toEqual([
      ['4.2.0', 1],
      ['4.3.0', 3],
    ]);
    const only = { ...wholeScope, versions: { match: 'only', version: 'v4.3' } as const };
    expect(countMatrix(index, only, { first: 0, last: 60_000 }, null, null).total.sessions).toBe(3);
  });
});
