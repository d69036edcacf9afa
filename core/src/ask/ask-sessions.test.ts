import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { dayMs } from '../durations.ts';
import { wholeScope } from '../scope/scope.ts';
import { countDailySessions, countMatrix } from '../session-index/count-sessions.ts';
import type { DaySpan } from '../session-index/session-rows.ts';
import { anySession, indexOf, type OneSession, plainSession } from '../session-index/testing/sessions.ts';
import { askSessions, type SessionsQuestion } from './ask-sessions.ts';
import { stepsOf } from './steps.ts';

const span: DaySpan = { first: 100, last: 106 };
const now = 106 * dayMs + 1;
const question = (more: Partial<SessionsQuestion>): SessionsQuestion => ({
  splits: [],
  span,
  steps: null,
  most: 40,
  sampling: 'everybody',
  ...more,
});
const version = { field: 'version' as const, key: '' };
const device = { field: 'device.model' as const, key: '' };
const layers = { field: 'attributes' as const, key: 'layers' };
const someSessions = fc.array(anySession, { maxLength: 60 });

describe('sessions that are asked for', () => {
  it('agree with the matrix of crash-free in every count and design effect', () => {
    fc.assert(
      fc.property(someSessions, fc.nat(60), (sessions, settleAt) => {
        const index = indexOf(sessions, settleAt);
        const matrix = countMatrix(index, wholeScope, span, device, version);
        const asked = askSessions(index, wholeScope, question({ splits: [device, version] }), {
          count: 'crashed sessions',
          per: 'sessions',
        });
        const people = askSessions(index, wholeScope, question({ splits: [device, version] }), {
          count: 'people with a crash',
          per: 'people',
        });
        const placed = (groups: typeof asked.groups) =>
          new Map(
            groups.map(({ places: [down = 0, across = 0], sum }) => [
              `${asked.splits[0]?.values[down]} ${asked.splits[1]?.values[across]}`,
              sum,
            ]),
          );
        const [counted, hit] = [placed(asked.groups), placed(people.groups)];
        matrix.rows.forEach((row, down) => {
          matrix.columns.forEach((column, across) => {
            const cell = matrix.cells[down * matrix.columns.length + across];
            if (!cell || cell.sessions === 0) return;
            expect(counted.get(`${row} ${column}`)).toEqual({ count: cell.crashed, per: cell.sessions, effect: cell.effects.crashed });
            expect(hit.get(`${row} ${column}`)).toEqual({ count: cell.personsCrashed, per: cell.persons, effect: 1 });
          });
        });
        expect(asked.total).toEqual({ count: matrix.total.crashed, per: matrix.total.sessions, effect: matrix.total.effects.crashed });
      }),
    );
  });

  it('agree with the days of crash-free, by one field or none', () => {
    fc.assert(
      fc.property(someSessions, fc.nat(60), (sessions, settleAt) => {
        const index = indexOf(sessions, settleAt);
        const daily = countDailySessions(index, wholeScope, span, version);
        const steps = stepsOf('day', span, now);
        const asked = askSessions(index, wholeScope, question({ splits: [version], steps }), { count: 'people', per: null });
        expect(asked.groups.map(({ places }) => asked.splits[0]?.values[places[0] as number])).toEqual(daily.values);
        expect(asked.groups.map(({ course }) => course?.map((cell) => cell.count))).toEqual(
          daily.days.map((of) => of.map((day) => day.persons)),
        );
        const all = askSessions(index, wholeScope, question({ steps }), { count: 'sessions', per: null });
        expect((all.groups[0]?.course ?? []).map((cell) => cell.count)).toEqual(
          sessions.some((one) => !one.inferred) ? daily.ofDays.map((day) => day.sessions) : [],
        );
      }),
    );
  });

  it('are counted by three fields as by looking at each', () => {
    fc.assert(
      fc.property(someSessions, (sessions) => {
        const asked = askSessions(indexOf(sessions, 0), wholeScope, question({ splits: [version, device, layers] }), {
          count: 'people',
          per: null,
        });
        const expected = new Map<string, Set<number>>();
        const nameOf = (one: OneSession) => `${one.version} | ${one.device ?? ''} | ${one.layers.join(', ')}`;
        for (const one of sessions) if (!one.inferred) expected.set(nameOf(one), (expected.get(nameOf(one)) ?? new Set()).add(one.person));
        const found = asked.groups.map(({ places, sum }) => [
          places.map((place, at) => asked.splits[at]?.values[place]).join(' | '),
          sum.count,
        ]);
        expect(Object.fromEntries(found)).toEqual(Object.fromEntries([...expected].map(([name, persons]) => [name, persons.size])));
      }),
    );
  });

  it('are counted by how long ago their version came out', () => {
    const session: OneSession = plainSession;
    const sessions = [
      session,
      { ...session, day: 105 },
      { ...session, version: '4.3.0', person: 2, day: 105 },
      { ...session, version: '9.9', day: 104 },
    ];
    const releases = [
      { version: '4.2.0', day: 103 },
      { version: '4.3', day: 105 },
    ];
    const steps = stepsOf('day since release', span, now, releases);
    const asked = askSessions(indexOf(sessions, 0), wholeScope, question({ splits: [version], steps }), { count: 'sessions', per: null });
    const courses = asked.groups.map(({ places, course }) => [
      asked.splits[0]?.values[places[0] as number],
      (course ?? []).slice(0, 3).map((cell) => cell.count),
    ]);
    expect(Object.fromEntries(courses)).toEqual({ '4.2.0': [1, 0, 1], '4.3.0': [1, 0, 0], '9.9': [0, 0, 0] });
  });
});
