import { Random } from '@rough-ember/demo/random';
import { describe, expect, it } from 'vitest';
import { compareAdopters } from './simulations/adopters.ts';
import { tellBelow, tellWorse } from './simulations/alert-months.ts';
import { markCells } from './simulations/cells.ts';
import { coverageOf, fifthTold } from './simulations/coverage.ts';
import { demoPeople } from './simulations/demo-people.ts';
import { toldWorse } from './simulations/quiet-weeks.ts';
import { lookAtRollout, type People } from './simulations/rollouts.ts';

// What `npm run bench -- verdict.coverage …` measures, with fewer draws: bounds leave room for the chance of so few.

const times = <Result>(count: number, run: (at: number) => Result): Result[] => Array.from({ length: count }, (_, at) => run(at));
const isTold = (verdict: string): boolean => verdict === 'better' || verdict === 'worse';

describe('an interval of a rate', () => {
  it.each(demoPeople())('holds the truth for the people of $slug, down to 50 sessions', ({ people }) => {
    for (const sessions of [50, 1_000]) {
      const held = coverageOf(new Random(5), people, { sessions, runs: 500 });
      expect(held).toBeGreaterThan(0.91);
      expect(held).toBeLessThan(0.99);
    }
  });
});

describe('a verdict', () => {
  it.each(demoPeople())('is hardly ever given of a random fifth of the people of $slug', ({ people }) =>
    expect(fifthTold(new Random(6), people, 300)).toBeLessThan(0.07),
  );

  it('of equal versions that somebody looks at every hour is hardly ever "worse", and a harm is told', () => {
    const people: People = { persons: 2_500, crashesPerThousand: 20, usage: 1.2, risk: 0.3, retries: 0.5 };
    const equal = times(40, (run) => lookAtRollout(new Random(run), people));
    expect(equal.filter((one) => one.worse !== null).length).toBeLessThanOrEqual(4);
    expect(equal.filter((one) => one.better !== null).length).toBeLessThanOrEqual(3);
    // The same people, looked at with an interval that is made for one look.
    const fixed = times(40, (run) => lookAtRollout(new Random(run), people, { looking: 'once' }));
    expect(fixed.filter((one) => one.worse !== null).length).toBeGreaterThan(equal.filter((one) => one.worse !== null).length);
    const harmed = times(8, (run) => lookAtRollout(new Random(100 + run), people, { factor: 4 }));
    expect(harmed.every((one) => one.worse !== null)).toBe(true);
  });

  it('compares like with like, where better phones update first and the version changes nothing', () => {
    const told = times(25, (run) => compareAdopters(new Random(100 + run)));
    expect(told.filter((one) => isTold(one.plain)).length).toBeGreaterThan(18);
    expect(told.filter((one) => isTold(one.standardised)).length).toBeLessThanOrEqual(4);
  });
});

describe('marks', () => {
  it('are hardly ever set by chance among many cells, and are set where it is three times as bad', () => {
    const random = new Random(7);
    const marked = times(8, () => markCells(random, { cells: 60, crashesPerThousand: 10, worse: 6, times: 3 }));
    const sum = (of: 'falsely' | 'rightly' | 'couldBe') => marked.reduce((all, one) => all + one[of], 0);
    expect(sum('falsely') / (sum('falsely') + sum('rightly'))).toBeLessThan(0.1);
    expect(sum('rightly') / sum('couldBe')).toBeGreaterThan(0.65);
  });

  it('"getting worse" are hardly ever set on unchanged cases while the app is used more', () => {
    const lists = times(60, (run) => toldWorse(new Random(run)).falsely);
    expect(lists.filter((told) => told > 0).length).toBeLessThanOrEqual(6);
    const doubled = times(10, (run) => toldWorse(new Random(500 + run), { times: 3, changed: 15 }));
    expect(doubled.reduce((all, one) => all + one.rightly, 0)).toBeGreaterThan(60);
  });
});

describe('alert rules', () => {
  it('tell of cases that do not change in at most one month of twenty, and of one that doubled within days', () => {
    const quiet = times(60, (run) => tellWorse(new Random(run), { cases: 20, usualPeople: 100 }).size);
    expect(quiet.filter((told) => told > 0).length).toBeLessThanOrEqual(6);
    const doubled = times(30, (run) => tellWorse(new Random(500 + run), { cases: 20, usualPeople: 100, changed: 1, times: 2 }).get(0));
    expect(doubled.filter((look) => look !== undefined && look <= 8).length).toBeGreaterThan(24);
  });

  it('tell of a target that is just met in at most one month of twenty, and of twice what it allows within days', () => {
    const met = times(25, (run) => tellBelow(new Random(run), { persons: 300, targetPercent: 99 }));
    expect(met.filter((look) => look !== null).length).toBeLessThanOrEqual(3);
    const missed = times(6, (run) => tellBelow(new Random(900 + run), { persons: 1_500, targetPercent: 99, times: 2 }));
    expect(missed.every((look) => look !== null && look <= 5)).toBe(true);
  });
});
