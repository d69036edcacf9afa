import { describe, expect, it } from 'vitest';
import { shareOf } from '../stability/share.ts';
import type { Asked, Counted } from './asked.ts';
import { countedAgainst, figuresOf } from './figures.ts';
import { histogramOf, Numbers } from './number-cells.ts';

const asked = (
  groups: readonly (readonly [readonly number[], number, number?])[],
  values: readonly (readonly string[])[],
): Asked<Counted> => ({
  splits: values.map((one) => ({ values: one, gathered: 0 })),
  groups: groups.map(([places, count, per]) => ({ places, sum: { count, per: per ?? null, effect: 1 }, course: null })),
  total: { count: groups.reduce((sum, [, count]) => sum + count, 0), per: null, effect: 1 },
});

describe('what was counted against something counted elsewhere', () => {
  const versions = ['', '4.2.0', '4.3.0'];

  it('has it of the same value, and nought where nothing was counted of it', () => {
    const reports = asked([[[1], 5]], [versions]);
    const sessions = asked(
      [
        [[1], 1_000],
        [[2], 3_000],
      ],
      [versions],
    );
    const { groups, total } = figuresOf({ kind: 'rate', count: 'reports', per: 'sessions' }, countedAgainst(reports, sessions, [0]));
    expect(groups.map(({ places, sum }) => [places, sum.value, sum.count, sum.per])).toEqual([
      [[1], 5, 5, 1_000],
      [[2], 0, 0, 3_000],
    ]);
    expect(total.value).toBe(1.25);
  });

  it('has it of all values of a field that only the counted ones tell', () => {
    const byKind = asked(
      [
        [[1, 1], 4],
        [[2, 1], 6],
      ],
      [['', 'crash', 'hang'], versions],
    );
    const sessions = asked([[[1], 2_000]], [versions]);
    const { groups } = figuresOf({ kind: 'rate', count: 'reports', per: 'sessions' }, countedAgainst(byKind, sessions, [null, 0]));
    expect(groups.map(({ sum }) => sum.value)).toEqual([2, 3]);
  });
});

describe('the values of a measure', () => {
  const of = (count: number, per: number | null, effect: number | null = 1) =>
    ({ splits: [], groups: [], total: { count, per, effect } }) satisfies Asked<Counted>;

  it('are Wilson’s where a rate is a share', () => {
    const { low, high } = shareOf(10, 400);
    expect(figuresOf({ kind: 'rate', count: 'people with a crash', per: 'people' }, of(10, 400)).total).toEqual({
      value: 25,
      low: 1_000 * low,
      high: 1_000 * high,
      count: 10,
      per: 400,
    });
  });

  it('are Poisson’s where more may come than there are, wider where few people caused them', () => {
    const plain = figuresOf({ kind: 'rate', count: 'reports', per: 'sessions' }, of(9, 1_000)).total;
    // Score interval of 9: 9 + z²/2 ± z·√(9 + z²/4)
    expect(plain.value).toBe(9);
    expect(plain.low).toBeCloseTo(4.735, 3);
    expect(plain.high).toBeCloseTo(17.106, 3);
    const clustered = figuresOf({ kind: 'rate', count: 'reports', per: 'sessions' }, of(9, 1_000, 3)).total;
    expect(clustered.low).toBeLessThan(plain.low as number);
    expect(clustered.high).toBeGreaterThan(plain.high as number);
  });

  it('have no interval where nobody knows how sure they are, and no value of nothing', () => {
    expect(figuresOf({ kind: 'rate', count: 'sessions', per: 'people' }, of(30, 10, null)).total).toEqual({
      value: 3_000,
      low: null,
      high: null,
      count: 30,
      per: 10,
    });
    expect(figuresOf({ kind: 'rate', count: 'reports', per: 'sessions' }, of(3, 0)).total).toEqual({
      value: null,
      low: null,
      high: null,
      count: 3,
      per: 0,
    });
  });

  it('are what is left of all where they are crash-free', () => {
    expect(figuresOf({ kind: 'crash-free', name: 'crash-free sessions' }, of(5, 1_000)).total.value).toBe(99.5);
  });
});

describe('statistics of numbers', () => {
  const numbers = (all: readonly (readonly [number, number])[]) => {
    const made = new Numbers();
    for (const [value, person] of all) made.add(value, 1, person);
    return made;
  };

  it('are mean and quantiles with intervals that are wider where people are alike', () => {
    const apart = numbers(Array.from({ length: 100 }, (_, at) => [at + 1, at]));
    expect(apart.figure('mean').value).toBe(50.5);
    expect(apart.figure('median').value).toBe(50);
    expect(apart.figure('p95').value).toBe(95);
    expect(apart.figure('sum')).toEqual({ value: 5_050, low: null, high: null, count: 100, per: null });
    const alike = numbers(Array.from({ length: 100 }, (_, at) => [at + 1, Math.floor(at / 25)]));
    const width = ({ low, high }: { low: number | null; high: number | null }) => (high as number) - (low as number);
    expect(width(alike.figure('mean'))).toBeGreaterThan(2 * width(apart.figure('mean')));
    expect(width(apart.figure('median'))).toBeGreaterThan(10);
  });

  it('hold the truth in about 95 of 100 cases', () => {
    // A linear congruential generator, so that it is the same in every run.
    let state = 7;
    const random = () => {
      state = (state * 1_664_525 + 1_013_904_223) % 2 ** 32;
      return state / 2 ** 32;
    };
    const runs = 400;
    let [mean, median] = [0, 0];
    for (let run = 0; run < runs; run++) {
      const made = new Numbers();
      // Forty people with five values each, which lie about the person's own.
      for (let person = 0; person < 40; person++) {
        const own = random();
        for (let at = 0; at < 5; at++) made.add(own + random(), 1, person);
      }
      const holds = ({ low, high }: { low: number | null; high: number | null }) => (low as number) <= 1 && (high as number) >= 1;
      if (holds(made.figure('mean'))) mean++;
      if (holds(made.figure('median'))) median++;
    }
    expect(mean / runs).toBeGreaterThan(0.91);
    expect(mean / runs).toBeLessThan(0.98);
    expect(median / runs).toBeGreaterThan(0.91);
  });

  it('of none are unknown, and of one have no interval', () => {
    expect(numbers([]).figure('p90').value).toBeNull();
    expect(numbers([[4, 1]]).figure('mean')).toEqual({ value: 4, low: null, high: null, count: 1, per: null });
    expect(numbers([[4, 1]]).figure('median')).toEqual({ value: 4, low: null, high: null, count: 1, per: null });
  });

  it('have a histogram with bounds that people can read', () => {
    const histogram = histogramOf(numbers(Array.from({ length: 50 }, (_, at) => [at * 2, at])));
    expect(histogram?.bounds.slice(0, 4)).toEqual([0, 5, 10, 15]);
    expect(histogram?.counts.reduce((sum, one) => sum + one, 0)).toBe(50);
    expect(histogramOf(numbers([[3, 1]]))?.counts).toEqual([1]);
    expect(histogramOf(numbers([]))).toBeNull();
  });
});
