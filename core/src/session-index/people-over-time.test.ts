import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { wholeScope } from '../scope/scope.ts';
import { shareOf } from '../stability/share.ts';
import { compareVersions } from '../version/version-order.ts';
import { countPeopleOverTime, recentDays, stretchesOfPeople, weekOf, weeksOfPeople } from './people-over-time.ts';
import { anySession, indexOf, type OneSession, plainSession } from './testing/sessions.ts';

it('weeks begin on Mondays', () => {
  const day = (date: string) => Date.parse(date) / 86_400_000;
  for (const date of ['2026-11-30', '2026-12-03', '2026-12-06']) expect(weekOf(day(date))).toBe(day('2026-11-30'));
  expect(weekOf(day('2026-12-07'))).toBe(day('2026-12-07'));
});

it('the example of the calculations page', () => {
  const { value, low, high } = shareOf(18, 40);
  expect([value, low, high].map((share) => Math.round(100 * share))).toEqual([45, 31, 60]);
});

describe('people over time', () => {
  it('begin, stay, come back, and are followed by the version and week they began with', () => {
    // Day 102 is a Monday.
    const on = (person: number, day: number, version = '4.2.0'): OneSession => ({ ...plainSession, person, day, version });
    const sessions = [on(1, 95), on(2, 102), on(2, 103), on(3, 102), on(3, 112, '4.3.0'), on(1, 117, '4.10.0'), on(2, 116, '4.3.0')];
    const { weeks, ofWeeks, ofVersions, lastVersions, firstDay } = countPeopleOverTime(indexOf(sessions, 3), wholeScope, 118);
    expect(firstDay).toBe(95);
    expect(weeks).toEqual([
      { first: 95, people: 1, begun: 1, stayed: 0, cameBack: 0 },
      { first: 102, people: 2, begun: 2, stayed: 0, cameBack: 0 },
      { first: 109, people: 1, begun: 0, stayed: 1, cameBack: 0 },
      { first: 116, people: 2, begun: 0, stayed: 0, cameBack: 2 },
    ]);
    // The first week of all is no week in which people begin. The second stretch of these two ends on day 122.
    const later = [{ came: 1, of: 2 }, ...Array(stretchesOfPeople - 1).fill({ came: 0, of: 0 })];
    expect(ofWeeks).toEqual([{ first: 102, people: 2, later }]);
    expect(ofVersions.map(({ version, people, later }) => [version, people, later.slice(0, 3)])).toEqual([
      [
        '4.2.0',
        3,
        [
          { came: 1, of: 3 },
          { came: 0, of: 1 },
          { came: 0, of: 0 },
        ],
      ],
    ]);
    expect(lastVersions).toEqual([
      { version: '4.3.0', people: 2 },
      { version: '4.10.0', people: 1 },
    ]);
  });

  it('are counted as one who follows each person does', () => {
    const drawn = fc.array(
      fc.record({ one: anySession, day: fc.integer({ min: 20, max: 140 }) }).map(({ one, day }) => ({ ...one, day, inferred: false })),
      { maxLength: 120 },
    );
    const today = 130;
    fc.assert(
      fc.property(drawn, fc.nat(120), (sessions, settleAt) => {
        const told = countPeopleOverTime(indexOf(sessions, settleAt), wholeScope, today);
        const past = sessions.filter((one) => one.isKnown && one.day <= today);
        const persons = [...new Set(past.map((one) => one.person))].map((person) => {
          const own = past.filter((one) => one.person === person).sort((a, b) => a.day - b.day || compareVersions(a.version, b.version));
          return { own, first: own[0] as OneSession, last: own.at(-1) as OneSession };
        });
        for (const week of told.weeks) {
          const there = (one: { own: readonly OneSession[] }, from: number) => one.own.some(({ day }) => weekOf(day) === from);
          const people = persons.filter((one) => there(one, week.first));
          const begun = people.filter((one) => weekOf(one.first.day) === week.first);
          const stayed = people.filter((one) => there(one, week.first - 7));
          expect(week).toEqual({
            first: week.first,
            people: people.length,
            begun: begun.length,
            stayed: stayed.length,
            cameBack: people.length - begun.length - stayed.length,
          });
        }
        expect(told.weeks.length).toBeLessThanOrEqual(weeksOfPeople);
        for (const { version, people, later } of told.ofVersions) {
          const followed = persons.filter(
            ({ first }) => first.version === version && first.day > today - 7 * (weeksOfPeople + stretchesOfPeople),
          );
          expect(people).toBe(followed.length);
          for (const [at, { came, of }] of later.entries()) {
            const [from, to] = [7 * (at + 1), 7 * (at + 2)];
            const over = followed.filter(({ first }) => first.day + to <= today);
            expect(of).toBe(over.length);
            expect(came).toBe(
              over.filter(({ own, first }) => own.some(({ day }) => day - first.day >= from && day - first.day < to)).length,
            );
          }
        }
        const recent = persons.filter(({ last }) => last.day > today - recentDays);
        expect(told.lastVersions.reduce((sum, one) => sum + one.people, 0)).toBe(recent.length);
        for (const { version, people } of told.lastVersions)
          expect(people).toBe(recent.filter(({ last }) => last.version === version).length);
      }),
    );
  });
});
