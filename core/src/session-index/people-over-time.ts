import { axisOf } from './axis.ts';
import type { Day } from './person-day.ts';
import { mark, type SessionIndex, sampleShare } from './session-index.ts';
import { checkOf, eachRow, rowsByPerson, type Sampling, samplingAtOnce } from './session-rows.ts';
import { type SessionScope, sessionTests } from './session-test.ts';

/** The first day of the week of a day: weeks of UTC begin on Mondays, and 1 January 1970 was a Thursday. */
export const weekOf = (day: Day): Day => 7 * Math.floor((day + 3) / 7) - 3;

/** The people of a week, each of one kind. */
export interface WeekOfPeople {
  /** Its Monday. */
  readonly first: Day;
  readonly people: number;
  /** Had no session before it. */
  readonly begun: number;
  /** Had one in the week before, too. */
  readonly stayed: number;
  /** Had one before, and none in the week before. */
  readonly cameBack: number;
}

/** People who began together, and how many of them had a session in each stretch of seven days after their own first day. */
export interface Cohort {
  readonly people: number;
  /**
   * The first seven days after the first seven, the next, and so on; of those alone for whom that stretch is over. Of a sample these are the
   * people in it, not scaled to all: a share is as sure as what was counted.
   */
  readonly later: readonly { readonly came: number; readonly of: number }[];
}

export interface PeopleOverTime {
  readonly sampling: Sampling;
  /** The first day of which there is any session. */
  readonly firstDay: Day | null;
  /** Oldest first; the last one is not over. */
  readonly weeks: readonly WeekOfPeople[];
  /** By the week of their first session, oldest first; without the first week of all, in which everybody seems to begin. */
  readonly ofWeeks: readonly (Cohort & { readonly first: Day })[];
  /** By the version of their first session, oldest first. */
  readonly ofVersions: readonly (Cohort & { readonly version: string })[];
  /** People who had a session in the last `recentDays`, by the version of their last one, oldest first. */
  readonly lastVersions: readonly { readonly version: string; readonly people: number }[];
}

/** Weeks that are looked at, the present one among them. */
export const weeksOfPeople = 13;
/** Stretches of seven days in which people are looked for again. */
export const stretchesOfPeople = 8;
/** Whose last session is no longer ago uses the app. */
export const recentDays = 28;

/**
 * How people begin, stay and come back. A person's first day is the first in the scope, however long ago. Of an app with many people a sample
 * tells it, scaled to all.
 */
export function countPeopleOverTime(index: SessionIndex, scope: SessionScope, today: Day): PeopleOverTime {
  index.ready();
  const sampling = samplingAtOnce(index);
  const passes = checkOf(index, { ...sessionTests(index, scope), first: 0, last: today });
  const [personOf, dayOf, marks] = [index.column('personOf'), index.column('dayOf'), index.column('marks')];
  const versions = axisOf(index, { field: 'version', key: '' }, mostVersions);
  const tally = new PeopleTally(today, versions.values);
  let person = -1;
  const own: PersonDays = { days: [], ...unseen };
  const flush = () => {
    if (own.days.length > 0) tally.add(own);
    own.days.length = 0;
    Object.assign(own, unseen);
  };
  eachRow(rowsByPerson(index, sampling), (row) => {
    if (!passes(row) || ((marks[row] as number) & mark.unknownPerson) !== 0) return;
    if (personOf[row] !== person) flush();
    person = personOf[row] as number;
    const day = dayOf[row] as number;
    const version = versions.placeOf[versions.codes[row] as number] as number;
    own.days.push(day);
    // Of two versions on one day the older one was first, and the newer one last.
    if (day < own.first || (day === own.first && version < own.firstVersion)) {
      own.first = day;
      own.firstVersion = version;
    }
    if (day > own.last || (day === own.last && version > own.lastVersion)) {
      own.last = day;
      own.lastVersion = version;
    }
  });
  flush();
  return tally.result(sampling);
}

const mostVersions = 500;

/** The days of somebody, and the places of their first and last version among all. One is filled again and again: there are many persons. */
interface PersonDays {
  readonly days: Day[];
  first: Day;
  last: Day;
  firstVersion: number;
  lastVersion: number;
}

const unseen = { first: Number.POSITIVE_INFINITY, last: -1, firstVersion: 0, lastVersion: 0 } as const;

interface OpenCohort {
  people: number;
  readonly came: number[];
  readonly of: number[];
}

const openCohort = (): OpenCohort => ({ people: 0, came: Array(stretchesOfPeople).fill(0), of: Array(stretchesOfPeople).fill(0) });

type Writable<Of> = { -readonly [Name in keyof Of]: Of[Name] };

class PeopleTally {
  private readonly thisWeek: Day;
  private firstDay: Day = Number.POSITIVE_INFINITY;
  private readonly weeks = Array.from({ length: weeksOfPeople }, () => ({ people: 0, begun: 0, stayed: 0, cameBack: 0 }));
  private readonly ofWeeks = new Map<Day, OpenCohort>();
  private readonly ofVersions = new Map<number, OpenCohort>();
  private readonly lastVersions = new Map<number, number>();

  constructor(
    private readonly today: Day,
    private readonly versions: readonly string[],
  ) {
    this.thisWeek = weekOf(today);
  }

  add({ days, first, last, firstVersion, lastVersion }: PersonDays): void {
    this.firstDay = Math.min(this.firstDay, first);
    const weeks = this.weeksOf(days);
    for (let back = 0; back < weeksOfPeople; back++) {
      if ((weeks & (1 << back)) === 0) continue;
      const counts = this.weeks[weeksOfPeople - 1 - back] as Writable<Omit<WeekOfPeople, 'first'>>;
      counts.people++;
      if (this.thisWeek - 7 * back === weekOf(first)) counts.begun++;
      else if ((weeks & (2 << back)) !== 0) counts.stayed++;
      else counts.cameBack++;
    }
    if (first > this.today - 7 * (weeksOfPeople + stretchesOfPeople)) {
      const stretches = stretchesOf(days, first);
      this.follow(this.ofWeeks, weekOf(first), first, stretches);
      this.follow(this.ofVersions, firstVersion, first, stretches);
    }
    if (last > this.today - recentDays) this.lastVersions.set(lastVersion, (this.lastVersions.get(lastVersion) ?? 0) + 1);
  }

  /** A bit for each week with a session: the lowest is the present one, the highest the one before the first that is shown. */
  private weeksOf(days: readonly Day[]): number {
    let weeks = 0;
    for (const day of days) {
      const back = (this.thisWeek - weekOf(day)) / 7;
      if (back <= weeksOfPeople) weeks |= 1 << back;
    }
    return weeks;
  }

  private follow<Name>(cohorts: Map<Name, OpenCohort>, name: Name, first: Day, stretches: number): void {
    const cohort = cohorts.get(name) ?? openCohort();
    cohorts.set(name, cohort);
    cohort.people++;
    for (let at = 0; at < stretchesOfPeople && first + 7 * (at + 2) <= this.today; at++) {
      cohort.of[at] = (cohort.of[at] as number) + 1;
      if ((stretches & (1 << at)) !== 0) cohort.came[at] = (cohort.came[at] as number) + 1;
    }
  }

  result(sampling: Sampling): PeopleOverTime {
    const times = sampling === 'sample' ? sampleShare : 1;
    const closed = ({ people, came, of }: OpenCohort): Cohort => ({
      people: times * people,
      later: came.map((count, at) => ({ came: count, of: of[at] as number })),
    });
    const oldest = this.thisWeek - 7 * (weeksOfPeople - 1);
    return {
      sampling,
      firstDay: Number.isFinite(this.firstDay) ? this.firstDay : null,
      weeks: this.weeks
        .map(({ people, begun, stayed, cameBack }, at) => ({
          first: oldest + 7 * at,
          people: times * people,
          begun: times * begun,
          stayed: times * stayed,
          cameBack: times * cameBack,
        }))
        .filter(({ first }) => first >= weekOf(this.firstDay)),
      ofWeeks: inOrder(this.ofWeeks)
        .filter(([first]) => first >= oldest && first > weekOf(this.firstDay))
        .map(([first, cohort]) => ({ first, ...closed(cohort) })),
      ofVersions: inOrder(this.ofVersions).map(([place, cohort]) => ({ version: this.versions[place] as string, ...closed(cohort) })),
      lastVersions: inOrder(this.lastVersions).map(([place, people]) => ({
        version: this.versions[place] as string,
        people: times * people,
      })),
    };
  }
}

/** A bit for each stretch of seven days after the first seven that has a session. */
function stretchesOf(days: readonly Day[], first: Day): number {
  let stretches = 0;
  for (const day of days) {
    const at = Math.floor((day - first) / 7) - 1;
    if (at >= 0 && at < stretchesOfPeople) stretches |= 1 << at;
  }
  return stretches;
}

const inOrder = <Value>(byNumber: ReadonlyMap<number, Value>): [number, Value][] => [...byNumber].sort(([a], [b]) => a - b);
