import { casesToTellOf } from '@rough-ember/core/cases/case-news';
import type { Counts } from '@rough-ember/core/session-index/tally';
import { designEffect, typicalEffect } from '@rough-ember/core/stability/session-rate';
import { freeLookedAt } from '@rough-ember/core/stability/share-looked-at';
import type { Random } from '@rough-ember/demo/random';
import { lognormal, poisson } from './draws.ts';

/** Days of a month on which a rule looks, and the two weeks before that its first look needs. */
const looks = 30;
const before = 14;

interface DailyCase {
  readonly caseId: number;
  /** People who met it, day by day. */
  readonly people: readonly number[];
}

/**
 * On which look of a month a rule "a case gets worse" tells each case that it tells, of cases of which some hit `times` as many people from the
 * first day of the month on. Sessions stay as many.
 */
export function tellWorse(
  random: Random,
  { cases, usualPeople, changed = 0, times = 1 }: { cases: number; usualPeople: number; changed?: number; times?: number },
): Map<number, number> {
  const drawn: DailyCase[] = Array.from({ length: cases }, (_, caseId) => {
    const daily = (usualPeople * lognormal(random, caseId < changed ? 0 : 1)) / 7;
    return {
      caseId,
      people: Array.from({ length: before + looks }, (_, day) =>
        poisson(random, day >= before && caseId < changed ? times * daily : daily),
      ),
    };
  });
  const sessions = 7 * 20_000;
  const sum = (people: readonly number[], from: number) => people.slice(from, from + 7).reduce((all, one) => all + one, 0);
  const told = new Map<number, number>();
  for (let look = 1; look <= looks; look++) {
    // The week that ended yesterday, and the one before.
    const weeks = drawn.map(({ caseId, people }) => ({
      caseId,
      week: { hits: sum(people, before + look - 7), count: sessions },
      weekBefore: { hits: sum(people, before + look - 14), count: sessions },
    }));
    for (const caseId of casesToTellOf(weeks)) if (!told.has(caseId)) told.set(caseId, look);
  }
  return told;
}

interface PersonDay {
  readonly sessions: number;
  readonly crashed: number;
}

/**
 * Whether, and on which look, a rule "crash-free below the target" tells in a month in which sessions crash as often as the target allows, or `times` as
 * often. People differ in how much they use an app and in their risk.
 */
export function tellBelow(
  random: Random,
  { persons, targetPercent, times = 1 }: { persons: number; targetPercent: number; times?: number },
): number | null {
  const allowed = 1 - targetPercent / 100;
  const people = Array.from({ length: persons }, () => ({ daily: 0.5 * lognormal(random, 0.8), risk: lognormal(random, 1) }));
  // The risks are scaled such that all sessions together crash as often as the target allows.
  const weighed = people.reduce((sum, one) => sum + one.daily * one.risk, 0) / people.reduce((sum, one) => sum + one.daily, 0);
  const days = Array.from({ length: 7 + looks }, () =>
    people.map(({ daily, risk }): PersonDay => {
      const sessions = poisson(random, daily);
      let crashed = 0;
      for (let one = 0; one < sessions; one++) if (random.next() < Math.min(1, (times * allowed * risk) / weighed)) crashed++;
      return { sessions, crashed };
    }),
  );
  for (let look = 0; look < looks; look++)
    if (freeLookedAt(countsOf(days.slice(look, look + 7), persons)).high < targetPercent / 100) return look + 1;
  return null;
}

/** The counts of some days, with the design effect that follows from them. */
function countsOf(days: readonly (readonly PersonDay[])[], persons: number): Counts {
  const sums = { persons: 0, personsHit: 0, countSquares: 0, products: 0, hitSquares: 0 };
  let [hits, count] = [0, 0];
  for (let person = 0; person < persons; person++) {
    let [x, n] = [0, 0];
    for (const day of days) {
      x += day[person]?.crashed ?? 0;
      n += day[person]?.sessions ?? 0;
    }
    if (n === 0) continue;
    hits += x;
    count += n;
    sums.persons++;
    if (x > 0) sums.personsHit++;
    sums.countSquares += n * n;
    sums.products += x * n;
    sums.hitSquares += x * x;
  }
  const effect = designEffect({ hits, count }, sums, typicalEffect);
  return { sessions: count, crashed: hits, hung: 0, killed: 0, persons: sums.persons, effects: { bad: effect } } as unknown as Counts;
}
