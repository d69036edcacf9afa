import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parseDay } from '../session-index/person-day.ts';
import { type Counts, noCounts } from '../session-index/tally.ts';
import { onlyCrashes } from './figures.ts';
import { monthOf, targetBudget } from './target-budget.ts';

const counts = (sessions: number, crashed: number): Counts => ({ ...noCounts, sessions, crashed });
const budget = (soFar: Counts, recent: Counts, at: string, targetPercent = 99) =>
  targetBudget({ soFar, recent, recentDays: 7 }, { targetPercent, badEnds: onlyCrashes, now: Date.parse(at) });

describe('the budget of a target', () => {
  it('is of the month of UTC', () => {
    expect(monthOf(parseDay('2026-02-11'))).toEqual({ first: parseDay('2026-02-01'), last: parseDay('2026-02-28') });
    expect(monthOf(parseDay('2026-12-31'))).toEqual({ first: parseDay('2026-12-01'), last: parseDay('2026-12-31') });
  });

  // Worked example of docs/calculations.md: 10,000 sessions a day, and 99 % as the target: 3,000 crashes in November.
  it('is what the target allows of the sessions so far and of those to come', () => {
    const half = budget(counts(150_000, 900), counts(70_000, 420), '2026-11-16T00:00:00Z');
    expect(half?.used).toBeCloseTo(0.3, 10);
    expect(half?.elapsed).toBeCloseTo(0.5, 10);
    expect(half?.atTheEnd.value).toBeCloseTo(0.994, 10);
    expect(half).toMatchObject({ usedUpOn: null, verdict: 'will-meet' });
  });

  it('says on which day it is used up, between the earliest and the latest', () => {
    const bad = budget(counts(150_000, 2_400), counts(70_000, 1_400), '2026-11-16T00:00:00Z');
    // 600 crashes are left, and 200 come each day.
    expect(bad?.usedUpOn?.day).toBe(parseDay('2026-11-19'));
    expect(bad?.verdict).toBe('will-miss');
    expect(budget(counts(150_000, 3_100), counts(70_000, 1_400), '2026-11-16T00:00:00Z')?.verdict).toBe('missed');
  });

  it('is open where few sessions say little of the rate, and nothing before there is any', () => {
    expect(budget(counts(300, 2), counts(140, 1), '2026-11-16T00:00:00Z')?.verdict).toBe('open');
    expect(budget(noCounts, noCounts, '2026-11-16T00:00:00Z')).toBeNull();
  });

  it('holds its parts together, whatever was counted', () => {
    const anyCounts = fc.tuple(fc.nat(50_000), fc.nat(2_000)).map(([good, crashed]) => counts(good + crashed, crashed));
    fc.assert(
      fc.property(
        anyCounts,
        anyCounts,
        fc.integer({ min: 0, max: 29 * 24 }),
        fc.double({ min: 90, max: 100, noNaN: true }),
        (soFar, recent, hours, target) => {
          const at = new Date(Date.parse('2026-11-01T00:00:00Z') + hours * 3_600_000).toISOString();
          const found = budget(soFar, recent, at, target);
          if (!found) return;
          expect(found.atTheEnd.low).toBeLessThanOrEqual(found.atTheEnd.value + 1e-12);
          expect(found.atTheEnd.high).toBeGreaterThanOrEqual(found.atTheEnd.value - 1e-12);
          if (found.usedUpOn?.day != null) {
            expect(found.usedUpOn.earliest).toBeLessThanOrEqual(found.usedUpOn.day);
            expect(found.usedUpOn.day).toBeLessThanOrEqual(found.usedUpOn.latest ?? found.month.last);
            expect(found.usedUpOn.day).toBeLessThanOrEqual(found.month.last);
          }
        },
      ),
    );
  });
});
