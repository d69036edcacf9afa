import { durationOfBucket, lastDurationBucket } from '../report/session-activity.ts';
import { compareVersions } from '../version/version-order.ts';
import type { Column } from './gather.ts';
import { type ActivityName, readTimedRequest, type SessionField } from './person-day.ts';
import { mark, type SessionIndex, sampleShare } from './session-index.ts';
import { type DaySpan, rowsThatPass, type Sampling } from './session-rows.ts';
import { type SessionScope, sessionTests } from './session-test.ts';

/** What a scope's sessions did on a screen of the app. */
export interface ScreenCounts {
  readonly screen: string;
  readonly visits: number;
  readonly sessions: number;
  readonly persons: number;
  /** Visits in each version, in the order of `ScreenActivity.versions`. */
  readonly visitsOfVersions: readonly number[];
}

export interface ScreenActivity {
  readonly sampling: Sampling;
  /** Oldest first. */
  readonly versions: readonly string[];
  /** Those with most visits first. */
  readonly screens: readonly ScreenCounts[];
  readonly persons: number;
}

/** How a scope's requests went that asked for the same. */
export interface RequestActivity {
  /** `GET tiles.larkfield.example/tiles/{number}` */
  readonly request: string;
  readonly count: number;
  readonly failed: number;
  readonly persons: number;
  /** Of those whose duration was told. */
  readonly timed: number;
  /** Milliseconds; null where none was told. */
  readonly medianMs: number | null;
  readonly p95Ms: number | null;
}

export interface RequestsActivity {
  readonly sampling: Sampling;
  /** The commonest first. */
  readonly requests: readonly RequestActivity[];
  readonly persons: number;
}

const version: SessionField = { field: 'version', key: '' };

/** Counts the visits of each screen in a scope, with the sessions and the persons that had any. */
export function countScreens(index: SessionIndex, scope: SessionScope, span: DaySpan, sampling: Sampling = 'everybody'): ScreenActivity {
  index.ready();
  const { dictionary } = index.activities.screens;
  const byVersion = index.valuesOf(version);
  const versions = byVersion?.dictionary ?? [''];
  const { counts, parts, persons, personsInAll } = countNames(index, 'screens', rowsOf(index, scope, span, sampling), {
    groups: dictionary.length,
    groupOf: Int32Array.from(dictionary, (_, code) => code),
    places: versions.length,
    placeOf: null,
    placeOfRow: byVersion?.codes ?? null,
  });
  const times = sampling === 'sample' ? sampleShare : 1;
  const visitsOf = (screen: number, of: number) => times * (counts[screen * versions.length + of] as number);
  const seen = versions.map((_, code) => code).filter((code) => dictionary.some((_, screen) => visitsOf(screen, code) > 0));
  seen.sort((a, b) => compareVersions(versions[a] as string, versions[b] as string));
  const screens = dictionary.map((screen, code) => {
    const visitsOfVersions = seen.map((of) => visitsOf(code, of));
    return {
      screen,
      visits: sum(visitsOfVersions),
      sessions: times * (parts[code] as number),
      persons: times * (persons[code] as number),
      visitsOfVersions,
    };
  });
  return {
    sampling,
    versions: seen.map((code) => versions[code] as string),
    screens: screens.filter((one) => one.visits > 0).sort((a, b) => b.visits - a.visits),
    persons: times * personsInAll,
  };
}

/** Counts the requests of a scope by what they asked for: how many failed, and how long they took. */
export function countRequests(index: SessionIndex, scope: SessionScope, span: DaySpan, sampling: Sampling = 'everybody'): RequestsActivity {
  index.ready();
  const { dictionary } = index.activities.requests;
  const requests: string[] = [];
  const numberOf = new Map<string, number>();
  const groupOf = new Int32Array(dictionary.length);
  const bucketOf = new Int32Array(dictionary.length);
  dictionary.forEach((name, code) => {
    const { request, bucket } = readTimedRequest(name);
    const group = numberOf.get(request) ?? requests.push(request) - 1;
    numberOf.set(request, group);
    groupOf[code] = group;
    bucketOf[code] = bucket ?? untimed;
  });
  const places = untimed + 1;
  const { counts, parts, persons, personsInAll } = countNames(index, 'requests', rowsOf(index, scope, span, sampling), {
    groups: requests.length,
    groupOf,
    places,
    placeOf: bucketOf,
    placeOfRow: null,
  });
  const times = sampling === 'sample' ? sampleShare : 1;
  const counted = requests.map((request, group): RequestActivity => {
    const buckets = counts.subarray(group * places, group * places + untimed);
    const timed = sum(buckets);
    return {
      request,
      count: times * (timed + (counts[group * places + untimed] as number)),
      failed: times * (parts[group] as number),
      persons: times * (persons[group] as number),
      timed: times * timed,
      medianMs: quantileOf(buckets, timed, 0.5),
      p95Ms: quantileOf(buckets, timed, 0.95),
    };
  });
  return { sampling, requests: counted.filter((one) => one.count > 0).sort((a, b) => b.count - a.count), persons: times * personsInAll };
}

/** The place behind the last bucket, for requests whose duration was not told. */
const untimed = lastDurationBucket + 1;

const sum = (numbers: ArrayLike<number>): number => {
  let total = 0;
  for (let at = 0; at < numbers.length; at++) total += numbers[at] as number;
  return total;
};

/** The duration that a share of the requests did not exceed; null without any. */
export function quantileOf(buckets: ArrayLike<number>, total: number, share: number): number | null {
  let reached = 0;
  for (let bucket = 0; bucket < buckets.length; bucket++) {
    reached += buckets[bucket] as number;
    if (reached > 0 && reached >= share * total) return durationOfBucket(bucket);
  }
  return null;
}

const rowsOf = (index: SessionIndex, scope: SessionScope, span: DaySpan, sampling: Sampling): Uint32Array =>
  rowsThatPass(index, sampling, { ...sessionTests(index, scope), ...span });

/** What names are counted by: groups of names, in each of which there are places that a name or a row decides. */
interface Groups {
  readonly groups: number;
  readonly groupOf: Int32Array;
  readonly places: number;
  readonly placeOf: Int32Array | null;
  readonly placeOfRow: Column | null;
}

interface NamesCounted {
  /** Group by group, each of its places. */
  readonly counts: Int32Array;
  /** For each group. */
  readonly parts: Int32Array;
  readonly persons: Int32Array;
  readonly personsInAll: number;
}

/** Looks at every entry of some rows, which come person by person. Whole numbers with a sign, as where sessions are counted. */
function countNames(
  index: SessionIndex,
  activity: ActivityName,
  rows: Uint32Array,
  { groups, groupOf, places, placeOf, placeOfRow }: Groups,
): NamesCounted {
  const { starts, lengths, codes, counts: countOf, parts: partOf } = index.activities[activity];
  const personOf = index.column('personOf') as Int32Array;
  const marks = index.column('marks') as Uint8Array;
  const counts = new Int32Array(groups * places);
  const parts = new Int32Array(groups);
  const persons = new Int32Array(groups);
  const last = new Int32Array(groups).fill(-1);
  const firstOf = Int32Array.from(groupOf, (group, code) => group * places + (placeOf?.[code] ?? 0));
  let personsInAll = 0;
  let lastInAll = -1;
  for (let place = 0; place < rows.length; place++) {
    const row = rows[place] as number;
    const count = lengths[row] as number;
    if (count === 0) continue;
    const person = ((marks[row] as number) & mark.unknownPerson) === 0 ? (personOf[row] as number) : -1;
    const offset = placeOfRow === null ? 0 : (placeOfRow[row] as number);
    const from = starts[row] as number;
    for (let at = from; at < from + count; at++) {
      const code = codes[at] as number;
      const to = ((firstOf[code] as number) + offset) | 0;
      const group = groupOf[code] as number;
      counts[to] = ((counts[to] as number) + (countOf[at] as number)) | 0;
      parts[group] = ((parts[group] as number) + (partOf[at] as number)) | 0;
      if (person < 0 || last[group] === person) continue;
      last[group] = person;
      persons[group] = ((persons[group] as number) + 1) | 0;
    }
    if (person < 0 || lastInAll === person) continue;
    lastInAll = person;
    personsInAll++;
  }
  return { counts, parts, persons, personsInAll };
}
