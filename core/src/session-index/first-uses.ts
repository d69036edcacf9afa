import { type BadEnds, onlyCrashes } from '../stability/figures.ts';
import type { FirstUses } from '../stability/survival.ts';
import { badOfRows } from './count-sides.ts';
import type { Day } from './person-day.ts';
import { mark, type SessionIndex } from './session-index.ts';
import { checkOf, type DaySpan, eachRow, rowsByPerson, samplingAtOnce } from './session-rows.ts';
import { type SessionScope, sessionTests } from './session-test.ts';

/** Days of use, or sessions, that are told apart. */
const mostUses = 30;

/** How far people got before a session of theirs ended badly: by days on which they used it, and by sessions. */
export interface FirstUsesOfPeople {
  readonly days: FirstUses;
  readonly sessions: FirstUses;
}

/**
 * How far people got in a scope before a session of theirs ended badly, so that somebody who opens the app once does not count as one who
 * used it for a month without a crash. Of an app with many people a sample tells it.
 */
export function countFirstUses(index: SessionIndex, scope: SessionScope, span: DaySpan, badEnds: BadEnds = onlyCrashes): FirstUsesOfPeople {
  index.ready();
  const passes = checkOf(index, { ...sessionTests(index, scope), ...span });
  const badOf = badOfRows(index, badEnds);
  const [personOf, dayOf, sessionsOf, marks] = [
    index.column('personOf'),
    index.column('dayOf'),
    index.column('sessions'),
    index.column('marks'),
  ];
  const uses = { days: noUses(), sessions: noUses() };
  let person = -1;
  let days = new Map<Day, OneDay>();
  const flush = () => {
    if (days.size === 0) return;
    const inOrder = [...days].sort(([a], [b]) => a - b).map(([, day]) => day);
    addDays(uses.days, inOrder);
    addSessions(uses.sessions, inOrder);
    days = new Map();
  };
  const look = (row: number) => {
    if (!passes(row) || ((marks[row] as number) & mark.unknownPerson) !== 0) return;
    if (personOf[row] !== person) flush();
    person = personOf[row] as number;
    const day = dayOf[row] as number;
    const known = days.get(day) ?? { sessions: 0, bad: 0 };
    days.set(day, { sessions: known.sessions + (sessionsOf[row] as number), bad: known.bad + badOf(row) });
  };
  eachRow(rowsByPerson(index, samplingAtOnce(index)), look);
  flush();
  return uses;
}

/** The sessions of a person on one day. */
interface OneDay {
  readonly sessions: number;
  readonly bad: number;
}

interface GrowingUses extends FirstUses {
  readonly atRisk: number[];
  readonly met: number[];
}

const noUses = (): GrowingUses => ({ atRisk: new Array<number>(mostUses).fill(0), met: new Array<number>(mostUses).fill(0) });

const add = (to: number[], at: number, part: number) => {
  to[at] = (to[at] as number) + part;
};

/** The days of one person, up to the first on which a session ended badly. */
function addDays(uses: GrowingUses, days: readonly OneDay[]): void {
  days.slice(0, mostUses).every(({ bad }, at) => {
    add(uses.atRisk, at, 1);
    if (bad > 0) add(uses.met, at, 1);
    return bad === 0;
  });
}

/**
 * The sessions of one person, up to the first that ended badly. Sums tell the days in order, and not the sessions of a day: each order of
 * those is as likely, so that the person is at risk in part (hypergeometric: the first of b bad ones among n comes behind k good ones with
 * the product of (n − b − i) / (n − i), i below k).
 */
function addSessions(uses: GrowingUses, days: readonly OneDay[]): void {
  let at = 0;
  for (const { sessions, bad } of days) {
    let atRisk = 1;
    for (let before = 0; before < sessions && atRisk > 0; before++, at++) {
      if (at === mostUses) return;
      const met = (atRisk * bad) / (sessions - before);
      add(uses.atRisk, at, atRisk);
      add(uses.met, at, met);
      atRisk = before + bad >= sessions ? 0 : atRisk - met;
    }
    if (bad > 0) return;
  }
}
