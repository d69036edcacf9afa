/** A field that something was divided by. */
export interface AskedSplit {
  /** '' for those that do not tell the field, `otherValues` for those that were gathered. */
  readonly values: readonly string[];
  /** How many values were gathered as others. */
  readonly gathered: number;
}

/** What was counted for one value of each field: in all, and in each step of time. */
export interface Group<Cell> {
  /** A place in the values of each split. */
  readonly places: readonly number[];
  readonly sum: Cell;
  readonly course: readonly Cell[] | null;
}

export interface Asked<Cell> {
  readonly splits: readonly AskedSplit[];
  readonly groups: readonly Group<Cell>[];
  readonly total: Cell;
}

/** A count, beside it what it is counted against where that is counted in the same place, and how its variance is enlarged. */
export interface Counted {
  readonly count: number;
  readonly per: number | null;
  /** The design effect: how many times as large the variance is as if everybody had caused one alone; null where nobody knows. */
  readonly effect: number | null;
}

export const nothingCounted: Counted = { count: 0, per: null, effect: 1 };

/** A value with the interval that holds it in 95 of 100 cases, and the counts it is made of. */
export interface Figure {
  /** Null where nothing was counted to make it of. */
  readonly value: number | null;
  readonly low: number | null;
  readonly high: number | null;
  readonly count: number;
  readonly per: number | null;
}

/** How many values of each split are named, such that a screen and an answer have room for all. */
export function mostValues(splits: number, steps: number): number {
  if (splits <= 1) return steps === 0 ? 60 : steps > 200 ? 6 : 12;
  if (splits === 2) return steps === 0 ? 24 : steps > 200 ? 3 : 6;
  return steps === 0 ? 9 : steps > 200 ? 2 : 3;
}

/** The places of a number that stands for a place in each of several splits, the last one counting fastest. */
export function placesOf(combined: number, sizes: readonly number[]): number[] {
  const places = new Array<number>(sizes.length);
  let left = combined;
  for (let at = sizes.length - 1; at >= 0; at--) {
    places[at] = left % (sizes[at] as number);
    left = Math.floor(left / (sizes[at] as number));
  }
  return places;
}

export const productOf = (sizes: readonly number[]): number => sizes.reduce((product, size) => product * size, 1);
