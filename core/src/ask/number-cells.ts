import { of95Percent } from '../stability/normal-quantile.ts';
import type { Figure } from './asked.ts';
import type { Statistic } from './measures.ts';

/** Numbers of a cell: each with how often it stands there and whose it is, -1 for nobody known; those of a person need not be together. */
export class Numbers {
  private readonly values: number[] = [];
  private readonly weights: number[] = [];
  private readonly persons: number[] = [];

  add(value: number, weight: number, person: number): void {
    this.values.push(value);
    this.weights.push(weight);
    this.persons.push(person);
  }

  get count(): number {
    return this.weights.reduce((sum, one) => sum + one, 0);
  }

  /** The least and the largest; null when there is none. */
  get range(): { readonly least: number; readonly most: number } | null {
    if (this.values.length === 0) return null;
    let [least, most] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
    for (const value of this.values) [least, most] = [Math.min(least, value), Math.max(most, value)];
    return { least, most };
  }

  /** How many lie in each of so many equal parts of a range. */
  histogram(least: number, width: number, parts: number): number[] {
    const bars = new Array<number>(parts).fill(0);
    this.values.forEach((value, at) => {
      const part = Math.min(parts - 1, Math.max(0, Math.floor((value - least) / width)));
      bars[part] = (bars[part] as number) + (this.weights[at] as number);
    });
    return bars;
  }

  figure(statistic: Statistic): Figure {
    const { count } = this;
    const nothing = { value: null, low: null, high: null, count, per: null };
    if (count === 0) return nothing;
    const sum = this.values.reduce((total, value, at) => total + value * (this.weights[at] as number), 0);
    if (statistic === 'sum') return { ...nothing, value: sum };
    if (statistic !== 'mean') return this.quantile(shares[statistic], count);
    const mean = sum / count;
    const half = of95Percent * Math.sqrt(this.clusteredVariance((value) => value - mean) / count ** 2);
    return { value: mean, low: finite(mean - half), high: finite(mean + half), count, per: null };
  }

  /**
   * A quantile with the interval of the order statistics that enclose it (Conover 1999, section 3.2, normal approximation), widened since
   * what one person told is alike: by the design effect of the share of numbers below it.
   */
  private quantile(share: number, count: number): Figure {
    const order = this.values.map((_, at) => at).sort((a, b) => (this.values[a] as number) - (this.values[b] as number));
    const valueAt = (wanted: number): number => {
      let reached = 0;
      for (const at of order) {
        reached += this.weights[at] as number;
        if (reached >= wanted * count) return this.values[at] as number;
      }
      return this.values[order.at(-1) as number] as number;
    };
    const value = valueAt(share);
    const below = this.values.reduce((sum, one, at) => sum + (one <= value ? (this.weights[at] as number) : 0), 0) / count;
    const deviation = Math.sqrt(this.clusteredVariance((one) => (one <= value ? 1 : 0) - below)) / count;
    const least = Math.sqrt((share * (1 - share)) / count);
    const half = of95Percent * Math.max(least, Number.isFinite(deviation) ? deviation : 0);
    const isKnown = count > 1;
    return {
      value,
      low: isKnown && share - half > 0 ? valueAt(share - half) : null,
      high: isKnown && share + half < 1 ? valueAt(share + half) : null,
      count,
      per: null,
    };
  }

  /** m/(m−1) · Σ over persons of the square of what theirs sums up to (Liang and Zeger 1986); NaN with fewer than two persons. */
  private clusteredVariance(of: (value: number) => number): number {
    const sums = new Map<number, number>();
    let squares = 0;
    let persons = 0;
    this.values.forEach((value, at) => {
      const person = this.persons[at] as number;
      const own = of(value) * (this.weights[at] as number);
      if (person >= 0) sums.set(person, (sums.get(person) ?? 0) + own);
      else {
        squares += own * own;
        persons++;
      }
    });
    for (const sum of sums.values()) squares += sum * sum;
    persons += sums.size;
    return persons < 2 ? Number.NaN : (persons / (persons - 1)) * squares;
  }
}

/** The numbers of a cell, which are made when there are the first. */
export function within(cells: Map<number, Numbers>, cell: number): Numbers {
  const known = cells.get(cell);
  if (known) return known;
  const made = new Numbers();
  cells.set(cell, made);
  return made;
}

const shares: Readonly<Record<Exclude<Statistic, 'sum' | 'mean'>, number>> = { median: 0.5, p90: 0.9, p95: 0.95, p99: 0.99 };
export const shareOfStatistic = (statistic: keyof typeof shares): number => shares[statistic];

const finite = (value: number): number | null => (Number.isFinite(value) ? value : null);

/** Bars of a histogram, each from one bound up to the next. */
export interface Histogram {
  readonly bounds: readonly number[];
  readonly counts: readonly number[];
}

const mostBars = 24;

/** A histogram of about twenty bars whose bounds people can read: 1, 2 or 5 times a power of ten apart. */
export function histogramOf(numbers: Numbers): Histogram | null {
  const { range } = numbers;
  if (range === null) return null;
  const { least, most } = range;
  const rough = (most - least) / (mostBars - 2) || 1;
  const power = 10 ** Math.floor(Math.log10(rough));
  const width = ([1, 2, 5, 10].find((times) => times * power >= rough) ?? 10) * power;
  const from = Math.floor(least / width) * width;
  const parts = Math.min(mostBars, Math.floor((most - from) / width) + 1);
  if (!Number.isFinite(width) || !Number.isFinite(from)) return null;
  return {
    bounds: Array.from({ length: parts + 1 }, (_, at) => Number((from + at * width).toPrecision(12))),
    counts: numbers.histogram(from, width, parts),
  };
}
