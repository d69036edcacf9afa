import type { Attributes } from '../report/limits.ts';
import type { SessionState } from '../report/session.ts';
import { type RequestCounts, requestName, type ScreenVisits } from '../report/session-activity.ts';
import {
  type ActivityName,
  type Day,
  listSeparator,
  type NamedCount,
  noActivities,
  type PersonDay,
  type SessionValue,
  startMs,
  timedRequest,
} from './person-day.ts';

/** A session as the store has it, with what it is counted by. */
export interface StoredSession {
  /** Sixteen bytes that name the person; where nobody is known, the session. */
  readonly countedKey: Uint8Array;
  readonly isKnown: boolean;
  readonly day: Day;
  readonly excluded: boolean;
  /** Only a report tells of it; no item of its own has come. */
  readonly inferred: boolean;
  readonly state: SessionState;
  /** Milliseconds from the start to the first crash that was told; null without one. */
  readonly crashedAfterMs: number | null;
  readonly errors: number;
  /** Values of the fields in columns; null is not told. */
  readonly values: readonly (readonly [field: SessionValue['field'], value: string | null])[];
  readonly flags: Readonly<Record<string, string>>;
  readonly attributes: Attributes;
  readonly screens: readonly ScreenVisits[];
  readonly requests: readonly RequestCounts[];
}

/** Flags beyond these, by name, are not told apart: each costs every session a byte. */
export const mostFlags = 60;
const longestValue = 200;

/** Names a person by the half of the key in which ids that are made by the clock differ most. */
export const shortKey = (key: Uint8Array): Uint8Array => key.subarray(8, 16);

/** Sums sessions of one person on one day that are alike; in the order of their first ones. */
export function sumSessions(sessions: Iterable<StoredSession>, filterable: ReadonlySet<string>): PersonDay[] {
  const sums = new Map<string, Writable<PersonDay>>();
  const activities = new Map<Writable<PersonDay>, ActivitySums>();
  for (const session of sessions) {
    const values = valuesOf(session, filterable);
    const person = shortKey(session.countedKey);
    const name = JSON.stringify([...person, session.day, session.excluded, session.inferred, values]);
    let sum = sums.get(name);
    if (!sum) {
      const { isKnown, day, excluded, inferred } = session;
      sum = {
        person,
        isKnown,
        day,
        excluded,
        inferred,
        values,
        sessions: 0,
        crashed: 0,
        hung: 0,
        killed: 0,
        crashedAtStart: 0,
        withErrors: 0,
        activities: noActivities,
      };
      sums.set(name, sum);
    }
    if (session.screens.length > 0 || session.requests.length > 0) {
      const own = activities.get(sum) ?? { screens: new Map(), requests: new Map() };
      activities.set(sum, own);
      addActivities(own, session);
    }
    sum.sessions++;
    if (session.state === 'crashed') sum.crashed++;
    if (session.state === 'hung') sum.hung++;
    if (session.state === 'killed') sum.killed++;
    if (isCrashAtStart(session)) sum.crashedAtStart++;
    if (session.errors > 0) sum.withErrors++;
  }
  for (const [sum, own] of activities) sum.activities = { screens: [...own.screens.values()], requests: [...own.requests.values()] };
  return [...sums.values()];
}

/** A crash before the start of its own session is one of a clock that was set meanwhile: nobody knows how far into the session it came. */
const isCrashAtStart = ({ state, crashedAfterMs }: StoredSession): boolean =>
  state === 'crashed' && crashedAfterMs !== null && crashedAfterMs >= 0 && crashedAfterMs < startMs;

type ActivitySums = Readonly<Record<ActivityName, Map<string, Writable<NamedCount>>>>;

function addActivities(sums: ActivitySums, { screens, requests }: StoredSession): void {
  const add = (activity: ActivityName, name: string, count: number, part: number) => {
    const sum = sums[activity].get(name) ?? { name, count: 0, part: 0 };
    sums[activity].set(name, sum);
    sum.count += count;
    sum.part += part;
  };
  // A screen may be listed twice, and still be of one session.
  const visits = new Map<string, number>();
  for (const { name, visits: more } of screens) visits.set(name, (visits.get(name) ?? 0) + more);
  for (const [name, count] of visits) add('screens', name, count, 1);
  for (const one of requests) {
    const request = requestName(one);
    const timed = one.durations.reduce((sum, { count }) => sum + count, 0);
    for (const { bucket, count } of one.durations) add('requests', timedRequest(request, bucket), count, 0);
    // Which of them failed is told of all together, so it is kept beside their durations.
    if (one.count > timed || one.failed > 0) add('requests', timedRequest(request, null), one.count - timed, one.failed);
  }
}

type Writable<Of> = { -readonly [Name in keyof Of]: Of[Name] };

function valuesOf({ values: told, flags, attributes }: StoredSession, filterable: ReadonlySet<string>): SessionValue[] {
  const values: SessionValue[] = [];
  const add = (field: SessionValue['field'], key: string, value: string) => {
    if (value !== '') values.push({ field, key, value: value.slice(0, longestValue) });
  };
  for (const [field, value] of told) add(field, '', value ?? '');
  for (const name of Object.keys(flags).sort().slice(0, mostFlags)) add('flags', name, flags[name] as string);
  for (const name of Object.keys(attributes).sort())
    if (filterable.has(name)) add('attributes', name, [attributes[name]].flat().map(String).join(listSeparator));
  return values;
}
