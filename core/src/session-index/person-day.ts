import { dayMs } from '../durations.ts';
import { type FieldName, fieldsWhere } from '../fields/fields.ts';

/** Days since 1970 in UTC. */
export type Day = number;

/** The day a moment lies in; milliseconds since 1970. */
export const dayOf = (at: number): Day => Math.floor(at / dayMs);

/** `2026-11-28` → its day. */
export const parseDay = (text: string): Day => dayOf(Date.parse(`${text}T00:00:00Z`));

export const printDay = (day: Day): string => new Date(day * dayMs).toISOString().slice(0, 10);

/** What is counted of sessions. A session counts once in `sessions`, and under the worst that happened to it. */
export interface SessionCounts {
  readonly sessions: number;
  readonly crashed: number;
  readonly hung: number;
  readonly killed: number;
  /** Crashed in the first five seconds; counted in `crashed` too. */
  readonly crashedAtStart: number;
  /** With a handled error, whatever their end. */
  readonly withErrors: number;
}

export const countNames = ['sessions', 'crashed', 'hung', 'killed', 'crashedAtStart', 'withErrors'] as const;
export type CountName = (typeof countNames)[number];

/** A crash within this time after the start of its session is one at the start. */
export const startMs = 5_000;

/** The fields that sessions have, in the words of the filter; flags and attributes come by their names. */
export const sessionFields: readonly FieldName[] = fieldsWhere(({ sessionColumn }) => sessionColumn);

/** A field with the name of the flag or attribute, else an empty one. */
export interface SessionField {
  readonly field: FieldName;
  readonly key: string;
}

/** A value of a session; a list has its elements in one text, with this sign between them. */
export interface SessionValue extends SessionField {
  readonly value: string;
}
export const listSeparator = '\u001f';

/** What sessions did of which they did several things: names with two counts each. */
export interface NamedCount {
  readonly name: string;
  /** How often. */
  readonly count: number;
  /** In how many sessions a screen was shown; how many requests failed. */
  readonly part: number;
}

/** What is kept of what sessions did: screens by their name, requests by what they asked for and how long they took. */
export const activityNames = ['screens', 'requests'] as const;
export type ActivityName = (typeof activityNames)[number];

/** What a request is counted by, followed by the bucket of its duration; `bucket` is null where none was told. */
export const timedRequest = (request: string, bucket: number | null): string => `${request}${listSeparator}${bucket ?? ''}`;

/** The two parts of what `timedRequest` gave. */
export function readTimedRequest(name: string): { readonly request: string; readonly bucket: number | null } {
  const [request = '', bucket = ''] = name.split(listSeparator);
  return { request, bucket: bucket === '' ? null : Number(bucket) };
}

/** Sessions of one person on one day that were alike in everything by which they can be told apart. */
export interface PersonDay extends SessionCounts {
  /** Eight bytes that name the person; where nobody is known, the session. */
  readonly person: Uint8Array;
  readonly isKnown: boolean;
  readonly day: Day;
  readonly excluded: boolean;
  /** Only reports tell of these sessions; no item of their own has come. */
  readonly inferred: boolean;
  readonly values: readonly SessionValue[];
  readonly activities: Readonly<Record<ActivityName, readonly NamedCount[]>>;
}

/** What sessions did that told nothing of it. */
export const noActivities: PersonDay['activities'] = { screens: [], requests: [] };
