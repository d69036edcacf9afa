import type { CaseWeeks } from '../report-index/weeks-of-cases.ts';
import { verdictsOfMany } from '../stability/discoveries.ts';
import { type Estimate, ratioOfCounts } from '../stability/share.ts';
import { sidesOfParts } from '../stability/sides.ts';
import type { CaseState } from './case-status.ts';

/** Why a case wants a look today; null for one that is simply there. */
export const caseNews = ['new', 'reopened', 'worse'] as const;
export type CaseNews = (typeof caseNews)[number];

/** How many times as many people of as many sessions met a case in the last whole week as in the one before. */
export interface CaseChange extends Estimate {
  /** People of both weeks. */
  readonly people: number;
  readonly peopleBefore: number;
  /** It is surely worse: of all cases that are told so, one in twenty is by chance. */
  readonly isWorse: boolean;
}

/** How each case of a scope changed, by its id. */
export function changesOf(cases: readonly CaseWeeks[]): Map<number, CaseChange> {
  const verdicts = verdictsOfMany(cases.map(({ week, weekBefore }) => sidesOfParts(week, weekBefore)));
  return new Map(
    cases.map(({ caseId, week, weekBefore }, at) => [
      caseId,
      {
        people: week.hits,
        peopleBefore: weekBefore.hits,
        ...ratioOfWeeks({ week, weekBefore }),
        // What was not there before is no worse than it; how often it was before is not known.
        isWorse: verdicts[at] === 'worse' && weekBefore.hits > 0,
      },
    ]),
  );
}

/**
 * The share of cases told worse by chance where somebody is told of them: small enough that a month of daily looks at cases that do not
 * change tells none in 19 of 20 months.
 */
export const falseAlertsOfWorse = 0.004;

/** The ids of the cases that are so surely worse that somebody is told. */
export function casesToTellOf(cases: readonly CaseWeeks[]): number[] {
  const verdicts = verdictsOfMany(
    cases.map(({ week, weekBefore }) => sidesOfParts(week, weekBefore)),
    falseAlertsOfWorse,
  );
  return cases.filter(({ weekBefore }, at) => verdicts[at] === 'worse' && weekBefore.hits > 0).map(({ caseId }) => caseId);
}

/** JSON knows no infinity: what was never there before is a thousand times as much. */
const mostTimes = 1000;

function ratioOfWeeks({ week, weekBefore }: Pick<CaseWeeks, 'week' | 'weekBefore'>): Estimate {
  const { value, low, high } = ratioOfCounts(week.hits, weekBefore.hits);
  const growth = weekBefore.count === 0 || week.count === 0 ? 1 : week.count / weekBefore.count;
  const times = (ratio: number) => Math.min(mostTimes, ratio / growth);
  return { value: times(value), low: times(low), high: times(high) };
}

/** Reopened before new before worse. */
export function newsOf({ state, isNew, change }: { state: CaseState; isNew: boolean; change: CaseChange | null }): CaseNews | null {
  if (state === 'reopened') return 'reopened';
  if (isNew) return 'new';
  return change?.isWorse ? 'worse' : null;
}
