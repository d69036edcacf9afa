import { type BadEnds, onlyCrashes } from '../stability/figures.ts';
import type { DaysOfUse } from '../stability/survival.ts';
import { badOfRows } from './count-sides.ts';
import type { Day } from './person-day.ts';
import { mark, type SessionIndex } from './session-index.ts';
import { checkOf, type DaySpan, eachRow, rowsByPerson, samplingAtOnce } from './session-rows.ts';
import { type SessionScope, sessionTests } from './session-test.ts';

/** Days of use that are told apart. */
const longestUse = 30;

/**
 * How far people got in a scope before a session of theirs ended badly, by days on which they used it: so that somebody who opens the app
 * once does not count as one who used it for a month without a crash. Of an app with many people a sample tells it.
 */
export function countDaysOfUse(index: SessionIndex, scope: SessionScope, span: DaySpan, badEnds: BadEnds = onlyCrashes): DaysOfUse {
  index.ready();
  const passes = checkOf(index, { ...sessionTests(index, scope), ...span });
  const badOf = badOfRows(index, badEnds);
  const [personOf, dayOf, marks] = [index.column('personOf'), index.column('dayOf'), index.column('marks')];
  const use = { atRisk: new Array<number>(longestUse).fill(0), met: new Array<number>(longestUse).fill(0) };
  let person = -1;
  const bad = new Map<Day, number>();
  const flush = () => {
    [...bad]
      .sort(([a], [b]) => a - b)
      .slice(0, longestUse)
      .every(([, count], day) => {
        use.atRisk[day] = (use.atRisk[day] as number) + 1;
        if (count > 0) use.met[day] = (use.met[day] as number) + 1;
        return count === 0;
      });
    bad.clear();
  };
  const look = (row: number) => {
    if (!passes(row) || ((marks[row] as number) & mark.unknownPerson) !== 0) return;
    if (personOf[row] !== person) flush();
    person = personOf[row] as number;
    const day = dayOf[row] as number;
    bad.set(day, (bad.get(day) ?? 0) + badOf(row));
  };
  eachRow(rowsByPerson(index, samplingAtOnce(index)), look);
  flush();
  return use;
}
