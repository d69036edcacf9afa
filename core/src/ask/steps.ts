import { dayMs, hourMs } from '../durations.ts';
import { type Day, dayOf } from '../session-index/person-day.ts';
import type { DaySpan } from '../session-index/session-rows.ts';
import { versionSortKey } from '../version/version-order.ts';
import type { StepName } from './question.ts';

/** When a version came out. */
export interface Release {
  readonly version: string;
  readonly day: Day;
}

/** Steps of time that something is counted in. */
export interface Steps {
  readonly every: StepName;
  /** The days they lie in; it may be shorter than what was asked for. */
  readonly span: DaySpan;
  /** When each begins, in milliseconds since 1970; of days since a release, how many there are. */
  readonly starts: readonly number[];
  /** Only of days since a release. */
  readonly releases: readonly Release[];
}

/** How far back each step is told, in days, so that a chart has no more steps than a screen has room for. */
const longestDays: Readonly<Record<StepName, number>> = { hour: 14, day: 400, week: 7 * 160, month: 30 * 120, 'day since release': 400 };
/** Days since a release that are told. */
const longestAge = 120;

/** The steps of a span that ends at `now`. */
export function stepsOf(every: StepName, { first, last }: DaySpan, now: number, releases: readonly Release[] = []): Steps {
  const end = Math.min(last, dayOf(now));
  const span = { first: Math.max(first, end - longestDays[every] + 1), last: end };
  return { every, span, releases, starts: every === 'day since release' ? agesOf(releases, end) : startsOf(every, span, now) };
}

/** Days since a release, up to that of the oldest version. */
function agesOf(releases: readonly Release[], last: Day): number[] {
  const oldest = releases.reduce((most, { day }) => Math.max(most, last - day), 0);
  return Array.from({ length: Math.min(longestAge, oldest + 1) }, (_, age) => age);
}

function startsOf(every: StepName, { first, last }: DaySpan, now: number): number[] {
  if (every === 'hour') {
    const hours = Math.floor((Math.min(now, (last + 1) * dayMs - 1) - first * dayMs) / hourMs) + 1;
    return Array.from({ length: hours }, (_, hour) => first * dayMs + hour * hourMs);
  }
  const starts: number[] = [];
  for (let day = first; day <= last; day++) {
    const start = startOf(every, day) * dayMs;
    if (start !== starts.at(-1)) starts.push(start);
  }
  return starts;
}

/** The first day of the step that a day lies in; weeks begin on Monday, and 1970 began on a Thursday. */
function startOf(every: StepName, day: Day): Day {
  if (every === 'week') return day - ((day + 3) % 7);
  if (every !== 'month') return day;
  const date = new Date(day * dayMs);
  return Date.UTC(date.getUTCFullYear(), date.getUTCMonth(), 1) / dayMs;
}

/** The step of each day of the span, by the day; days before it have none of their own and stand in the first. */
export function placesOfDays({ every, span, starts }: Steps): Int32Array {
  const placeOf = new Int32Array(span.last + 1);
  let place = 0;
  for (let day = span.first; day <= span.last; day++) {
    while (place + 1 < starts.length && startOf(every, day) * dayMs >= (starts[place + 1] as number)) place++;
    placeOf[day] = place;
  }
  return placeOf;
}

/** The step of a moment, where steps are hours. */
export const placeOfHour = ({ span, starts }: Steps, at: number): number =>
  Math.min(starts.length - 1, Math.max(0, Math.floor((at - span.first * dayMs) / hourMs)));

/** Which step a day is of a version: how long after its release it is; one behind the last where that is not known or too long. */
export function ageOf({ releases, starts }: Steps): (version: string) => (day: Day) => number {
  const released = new Map(releases.map(({ version, day }) => [versionSortKey(version), day]));
  return (version) => {
    const came = released.get(versionSortKey(version));
    return (day) => (came === undefined || day < came || day - came >= starts.length ? starts.length : day - came);
  };
}
