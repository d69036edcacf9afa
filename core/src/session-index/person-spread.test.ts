import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { wholeScope } from '../scope/scope.ts';
import { designEffect } from '../stability/session-rate.ts';
import { SidesTally } from '../stability/sides.ts';
import { countMatrix } from './count-sessions.ts';
import { countSides, countVersionSides } from './count-sides.ts';
import { anySession, indexOf, type OneSession } from './testing/sessions.ts';

const version = { field: 'version', key: '' } as const;
const device = { field: 'device.model', key: '' } as const;
const span = { first: 100, last: 110 };

/** Whose a session is; a session of nobody known is its own. */
const personOf = (one: OneSession, at: number): string => (one.isKnown ? `person ${one.person}` : `session ${at}`);

/** Bad sessions and all sessions of each person, of those that fulfil something. */
function byPerson(sessions: readonly OneSession[], fulfils: (one: OneSession) => boolean): Map<string, [bad: number, sessions: number]> {
  const persons = new Map<string, [number, number]>();
  sessions.forEach((one, at) => {
    if (!fulfils(one)) return;
    const own = persons.get(personOf(one, at)) ?? [0, 0];
    persons.set(personOf(one, at), [own[0] + (one.end === 'crashed' ? 1 : 0), own[1] + 1]);
  });
  return persons;
}

describe('how sessions spread over persons', () => {
  const drawn = fc.array(
    anySession.map((one) => ({ ...one, inferred: false, isKnown: true })),
    { minLength: 1, maxLength: 80 },
  );

  it('gives each cell the design effect that one finds who looks at each person', () => {
    fc.assert(
      fc.property(drawn, fc.nat(80), (sessions, settleAt) => {
        const inSpan = sessions.filter((one) => one.day >= span.first && one.day <= span.last);
        const matrix = countMatrix(indexOf(sessions, settleAt), wholeScope, span, version, device);
        const effectOf = (fulfils: (one: OneSession) => boolean, usual: number) => {
          const persons = [...byPerson(inSpan, fulfils).values()];
          const sum = (of: (person: readonly [number, number]) => number) => persons.reduce((all, person) => all + of(person), 0);
          return designEffect(
            { hits: sum(([x]) => x), count: sum(([, n]) => n) },
            {
              persons: persons.length,
              personsHit: persons.filter(([x]) => x > 0).length,
              countSquares: sum(([, n]) => n * n),
              products: sum(([x, n]) => x * n),
              hitSquares: sum(([x]) => x * x),
            },
            usual,
          );
        };
        const usual = matrix.total.effects.bad;
        matrix.rows.forEach((name, row) => {
          expect(matrix.ofRows[row]?.effects.bad).toBeCloseTo(
            effectOf((one) => one.version === name, usual),
            2,
          );
          matrix.columns.forEach((model, column) => {
            const cell = matrix.cells[row * matrix.columns.length + column];
            if (cell?.sessions)
              expect(cell.effects.bad).toBeCloseTo(
                effectOf((one) => one.version === name && (one.device ?? '') === model, usual),
                2,
              );
          });
        });
      }),
      { numRuns: 60 },
    );
  });

  it('gives both sides of a comparison the sums that one finds who looks at each person', () => {
    fc.assert(
      fc.property(drawn, fc.nat(80), (sessions, settleAt) => {
        const inSpan = sessions.filter((one) => one.day >= span.first && one.day <= span.last);
        const only = (name: string) => ({ scope: { ...wholeScope, versions: { match: 'only', version: name } as const }, span });
        const counted = countSides(indexOf(sessions, settleAt), { newer: only('4.3.0'), older: only('4.2.0') });
        const [newer, older] = ['4.3.0', '4.2.0'].map((name) => byPerson(inSpan, (one) => one.version === name));
        const [ofSessions, ofPersons] = [new SidesTally(), new SidesTally()];
        for (const person of new Set([...(newer?.keys() ?? []), ...(older?.keys() ?? [])])) {
          const [[x1, n1], [x2, n2]] = [newer?.get(person) ?? [0, 0], older?.get(person) ?? [0, 0]];
          ofSessions.add(x1, n1, x2, n2);
          ofPersons.add(Math.min(1, x1), Math.min(1, n1), Math.min(1, x2), Math.min(1, n2));
        }
        expect(
          countVersionSides(indexOf(sessions, settleAt), wholeScope, [
            { newer: { version: '4.3.0', span }, older: { version: '4.2.0', span } },
            { newer: { version: '4.2.0', span }, older: { version: '4.10.0', span } },
          ])[0],
        ).toEqual(counted);
        expect(counted).toEqual({ sampling: 'everybody', sessions: ofSessions.sides, persons: ofPersons.sides, standardised: null });
      }),
      { numRuns: 60 },
    );
  });
});
