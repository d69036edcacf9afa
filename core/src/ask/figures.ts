import { shareOfSessions } from '../stability/session-rate.ts';
import { type Estimate, rateOfCounts } from '../stability/share.ts';
import { type Asked, type Counted, type Figure, type Group, nothingCounted } from './asked.ts';
import { type CountedMeasure, countsOf, isPartOf } from './measures.ts';

/** Puts beside what was counted what it is counted against, which was counted elsewhere: for the same values, or for all where those are not told. */
export function countedAgainst(count: Asked<Counted>, per: Asked<Counted>, splits: readonly (number | null)[]): Asked<Counted> {
  const nameOf = (places: readonly (number | undefined)[]) => places.join();
  const known = new Map(per.groups.map((group) => [nameOf(group.places), group]));
  // The place of each split of what is counted against, among the splits of what is counted.
  const placesIn = (places: readonly number[]) => {
    const found: number[] = [];
    splits.forEach((of, at) => {
      if (of !== null) found[of] = places[at] as number;
    });
    return found;
  };
  const both = (own: Counted, other: Counted | undefined): Counted => ({ ...own, per: other?.count ?? 0 });
  const groups = count.groups.map((group): Group<Counted> => {
    const other = known.get(nameOf(placesIn(group.places)));
    return {
      places: group.places,
      sum: both(group.sum, other?.sum),
      course: group.course?.map((one, step) => both(one, other?.course?.[step])) ?? null,
    };
  });
  // Where nothing was counted of a value that others have, the rate is nought, not unknown.
  const isWhole = splits.every((of) => of !== null);
  const seen = new Set(count.groups.map((group) => nameOf(group.places)));
  const empty = isWhole ? per.groups.filter((group) => !seen.has(nameOf(orderOf(group.places, splits)))) : [];
  return {
    splits: count.splits,
    groups: [
      ...groups,
      ...empty.map((group) => ({
        places: orderOf(group.places, splits),
        sum: both(nothingCounted, group.sum),
        course: group.course?.map((one) => both(nothingCounted, one)) ?? null,
      })),
    ],
    total: both(count.total, per.total),
  };
}

const orderOf = (places: readonly number[], splits: readonly (number | null)[]): number[] =>
  splits.map((of) => places[of as number] as number);

/** What was counted, as the values of a measure. */
export function figuresOf(measure: CountedMeasure, { splits, groups, total }: Asked<Counted>): Asked<Figure> {
  const figure = figureOf(measure);
  return {
    splits,
    groups: groups.map(({ places, sum, course }) => ({ places, sum: figure(sum), course: course?.map(figure) ?? null })),
    total: figure(total),
  };
}

/**
 * A count by itself; a rate for 1,000 with its interval; a crash-free share in percent. A share is Wilson's on the effective sample, as
 * everywhere; what is no share of what it is counted against is a Poisson count that comes by persons.
 */
function figureOf(measure: CountedMeasure): (counted: Counted) => Figure {
  const counted = countsOf(measure);
  if (counted.per === null) return ({ count }) => ({ value: count, low: null, high: null, count, per: null });
  const isShare = isPartOf(counted.count, counted.per);
  return ({ count, per, effect }) => {
    const among = per ?? 0;
    if (among === 0) return { value: null, low: null, high: null, count, per: among };
    if (measure.kind === 'crash-free') {
      const { value, low, high } = shareOfSessions({ hits: among - count, count: among }, effect ?? 1);
      return { value: 100 * value, low: 100 * low, high: 100 * high, count, per: among };
    }
    const plain = { value: (1_000 * count) / among, low: null, high: null, count, per: among };
    if (effect === null) return plain;
    // A report may come of somebody whose session never arrived.
    const { low, high }: Estimate = isShare
      ? shareOfSessions({ hits: Math.min(count, among), count: among }, effect)
      : rateOfCounts(count, among, effect);
    return { ...plain, low: 1_000 * low, high: 1_000 * high };
  };
}
