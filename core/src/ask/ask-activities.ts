import { lastDurationBucket } from '../report/session-activity.ts';
import { quantileOf } from '../session-index/count-activities.ts';
import { readTimedRequest } from '../session-index/person-day.ts';
import { type SessionIndex, sampleShare } from '../session-index/session-index.ts';
import { rowsThatPass } from '../session-index/session-rows.ts';
import { type SessionScope, sessionTests } from '../session-index/session-test.ts';
import { divide, placeIn, type SessionsQuestion } from './ask-sessions.ts';
import { type Asked, type Counted, type Figure, placesOf } from './asked.ts';
import type { CountOf, Measure } from './measures.ts';
import { shareOfStatistic } from './number-cells.ts';

type ActivityCount = CountOf<'activities'>;

/** Counts what the sessions of a scope did: visits of screens, and requests. */
export function askActivities(
  index: SessionIndex,
  scope: SessionScope,
  question: SessionsQuestion,
  { count, per }: { readonly count: ActivityCount; readonly per: ActivityCount | null },
): Asked<Counted> {
  const ofCount = countActivities(index, scope, question, count);
  if (per === null) return ofCount;
  const ofPer = countActivities(index, scope, question, per);
  const known = new Map(ofPer.groups.map((group) => [group.places.join(), group]));
  const against = (own: Counted, other: Counted | undefined): Counted => ({ ...own, per: other?.count ?? 0 });
  const zero = { count: 0, per: 0, effect: null };
  const seen = new Map(ofCount.groups.map((group) => [group.places.join(), group]));
  return {
    splits: ofCount.splits,
    groups: [...new Map([...known, ...seen]).values()].map(({ places, course }) => {
      const [own, other] = [seen.get(places.join()), known.get(places.join())];
      return {
        places,
        sum: against(own?.sum ?? zero, other?.sum),
        course: course?.map((_, step) => against(own?.course?.[step] ?? zero, other?.course?.[step])) ?? null,
      };
    }),
    total: against(ofCount.total, ofPer.total),
  };
}

function countActivities(index: SessionIndex, scope: SessionScope, question: SessionsQuestion, count: ActivityCount): Asked<Counted> {
  index.ready();
  const { axes, splits, sizes, steps } = divide(index, scope, question);
  const { starts, lengths, counts, parts } = index.activities[count === 'screen visits' ? 'screens' : 'requests'];
  const column = count === 'failed requests' ? parts : counts;
  const across = axes.across.values.length;
  const cells = new Float64Array(axes.down.values.length * across);
  for (const row of rowsThatPass(index, question.sampling, { ...sessionTests(index, scope), ...question.span })) {
    const [from, length] = [starts[row] as number, lengths[row] as number];
    let sum = 0;
    for (let at = from; at < from + length; at++) sum += column[at] as number;
    const cell = placeIn(axes.down, row) * across + placeIn(axes.across, row);
    cells[cell] = (cells[cell] as number) + sum;
  }
  const times = question.sampling === 'sample' ? sampleShare : 1;
  const counted = (value: number): Counted => ({ count: times * value, per: null, effect: null });
  const groups = axes.down.values.map((_, group) => {
    const course = cells.subarray(group * across, group * across + across);
    return {
      places: placesOf(group, sizes),
      sum: counted(course.reduce((sum, one) => sum + one, 0)),
      course: steps === 0 ? null : Array.from(course.subarray(0, steps), counted),
    };
  });
  return { splits, groups: groups.filter(({ sum }) => sum.count > 0), total: counted(cells.reduce((sum, one) => sum + one, 0)) };
}

/** A quantile of how long the requests of a scope took, within 6 %: durations are kept in steps. */
export function askRequestTime(
  index: SessionIndex,
  scope: SessionScope,
  question: SessionsQuestion,
  { statistic }: Extract<Measure, { kind: 'request time' }>,
): Asked<Figure> {
  index.ready();
  const { axes, splits, sizes, steps } = divide(index, scope, question);
  const { dictionary, starts, lengths, codes, counts } = index.activities.requests;
  const buckets = lastDurationBucket + 1;
  const bucketOf = Int32Array.from(dictionary, (name) => readTimedRequest(name).bucket ?? -1);
  const across = axes.across.values.length;
  const cells = new Map<number, Float64Array>();
  for (const row of rowsThatPass(index, question.sampling, { ...sessionTests(index, scope), ...question.span })) {
    const [from, length] = [starts[row] as number, lengths[row] as number];
    if (length === 0) continue;
    const cell = placeIn(axes.down, row) * across + placeIn(axes.across, row);
    const own = cells.get(cell) ?? new Float64Array(buckets);
    cells.set(cell, own);
    for (let at = from; at < from + length; at++) {
      const bucket = bucketOf[codes[at] as number] as number;
      if (bucket >= 0) own[bucket] = (own[bucket] as number) + (counts[at] as number);
    }
  }
  const times = question.sampling === 'sample' ? sampleShare : 1;
  const figure = (all: readonly (Float64Array | undefined)[]): Figure => {
    const sums = new Float64Array(buckets);
    for (const own of all)
      for (let bucket = 0; own && bucket < buckets; bucket++) sums[bucket] = (sums[bucket] as number) + (own[bucket] as number);
    const count = sums.reduce((sum, one) => sum + one, 0);
    return { value: quantileOf(sums, count, shareOfStatistic(statistic)), low: null, high: null, count: times * count, per: null };
  };
  const groups = axes.down.values.map((_, group) => {
    const course = Array.from({ length: across }, (_, step) => cells.get(group * across + step));
    return {
      places: placesOf(group, sizes),
      sum: figure(course),
      course: steps === 0 ? null : course.slice(0, steps).map((one) => figure([one])),
    };
  });
  return { splits, groups: groups.filter(({ sum }) => sum.count > 0), total: figure([...cells.values()]) };
}
