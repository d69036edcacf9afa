import { dayMs } from '../durations.ts';
import { fateOf } from '../report/key-rules.ts';
import type { Scope } from '../scope/scope.ts';
import type { Day } from '../session-index/person-day.ts';
import type { DaySpan } from '../session-index/session-rows.ts';
import type { Part } from '../stability/sides.ts';
import { CaseOrder, type RowStretch, versionOfClass, wantedClasses } from './case-order.ts';
import { type SessionsOfVersions, sessionsByNumber } from './count-cases.ts';
import { none, type ReportIndex } from './report-index.ts';
import { scopeColumns } from './rows-in-scope.ts';

/** People who met a case, of the sessions of the versions that it happens in: in the last whole week, and in the one before. */
export interface CaseWeeks {
  readonly caseId: number;
  readonly week: Part;
  readonly weekBefore: Part;
}

const weekDays = 7;

/** The last seven days that are over, and the seven before: the same weekdays, and every hour of them. */
export const lastWeeks = (today: Day): { readonly week: DaySpan; readonly weekBefore: DaySpan } => ({
  week: { first: today - weekDays, last: today - 1 },
  weekBefore: { first: today - 2 * weekDays, last: today - weekDays - 1 },
});

/**
 * Counts the people of each case of a scope in both weeks; reports of nobody who is known count as somebody's each. Without sessions of its
 * versions, the sessions of both weeks are taken to be as many. Where reports were sampled, both weeks are thinned to what the sparser
 * sampling would have kept of them: otherwise a case would change because its sampling did.
 */
export function weeksOfCases(
  index: ReportIndex,
  scope: Scope,
  today: Day,
  sessions: { readonly week: SessionsOfVersions; readonly weekBefore: SessionsOfVersions },
): CaseWeeks[] {
  const { week, weekBefore } = lastWeeks(today);
  const [from, middle, to] = [weekBefore.first * dayMs, week.first * dayMs, (week.last + 1) * dayMs];
  const columns = scopeColumns(index, scope);
  const isWanted = wantedClasses(columns);
  const ofWeek = sessionsByNumber(index, sessions.week);
  const ofWeekBefore = sessionsByNumber(index, sessions.weekBefore);
  const order = CaseOrder.of(index);
  const lastIn = [new Int32Array(index.peopleSize).fill(none), new Int32Array(index.peopleSize).fill(none)] as const;
  const lastCaseOfVersion = new Int32Array(index.versions.length).fill(none);
  const found: CaseWeeks[] = [];
  for (let of = 0; of < index.caseCount; of++) {
    const people: [number, number] = [0, 0];
    const count: [number, number] = [0, 0];
    const heaviest = index.isWeighted ? heaviestOf(order.stretchesOf(of), { from, to }) : 1;
    for (const { columns: rows, first, end } of order.stretchesOf(of))
      for (let place = first; place < end; place++) {
        const at = rows.at[place] as number;
        if (at < from || at >= to || isWanted[rows.classes[place] as number] !== 1) continue;
        if (columns.fulfils !== null && columns.fulfils[rows.rows[place] as number] !== 1) continue;
        const weight = rows.weights === null ? 1 : (rows.weights[place] as number);
        if (weight < heaviest && fateOf(String(index.ids.values[rows.rows[place] as number])) >= (100 * weight) / heaviest) continue;
        const which = at >= middle ? 0 : 1;
        const person = rows.personOf[place] as number;
        if (person === none || lastIn[which][person] !== of) people[which]++;
        if (person !== none) lastIn[which][person] = of;
        const version = versionOfClass(rows.classes[place] as number);
        if (lastCaseOfVersion[version] === of) continue;
        lastCaseOfVersion[version] = of;
        count[0] += ofWeek?.[version] ?? 0;
        count[1] += ofWeekBefore?.[version] ?? 0;
      }
    if (people[0] + people[1] > 0) found.push({ caseId: index.caseIds[of] as number, ...asParts(people, count) });
  }
  return found;
}

/** The most that a report of a stretch of time stands for. */
function heaviestOf(stretches: readonly RowStretch[], { from, to }: { readonly from: number; readonly to: number }): number {
  let most = 1;
  for (const { columns, first, end } of stretches)
    for (let place = first; place < end; place++) {
      const at = columns.at[place] as number;
      if (at >= from && at < to) most = Math.max(most, columns.weights?.[place] ?? 1);
    }
  return most;
}

/** More people cannot have met it than there were sessions; where none was told, both weeks are as long. */
function asParts(people: readonly [number, number], count: readonly [number, number]): Pick<CaseWeeks, 'week' | 'weekBefore'> {
  const isTold = count[0] >= people[0] && count[1] >= people[1] && count[0] + count[1] > 0;
  const sessions = isTold ? count : ([unknownSessions, unknownSessions] as const);
  return { week: { hits: people[0], count: sessions[0] }, weekBefore: { hits: people[1], count: sessions[1] } };
}

/** So many that a case is rare among them. */
const unknownSessions = 1_000_000;
