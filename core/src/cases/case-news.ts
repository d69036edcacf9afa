import { type Estimate, ratioOfCounts } from '../stability/share.ts';
import type { CaseState } from './case-status.ts';

/** Why a case wants a look today; null for one that is simply there. */
export const caseNews = ['new', 'reopened', 'worse'] as const;
export type CaseNews = (typeof caseNews)[number];

/** How its reports in the window compare with those of the window before; null when there is no window before. */
export interface CaseChange extends Estimate {
  readonly before: number;
}

export const changeOf = ({ reports, reportsBefore }: { reports: number; reportsBefore: number }, hasBefore: boolean): CaseChange | null =>
  hasBefore ? { before: reportsBefore, ...finite(ratioOfCounts(reports, reportsBefore)) } : null;

/** JSON knows no infinity: what was never there before is a thousand times as much. */
const mostTimes = 1000;
const finite = ({ value, low, high }: Estimate): Estimate => ({
  value: Math.min(value, mostTimes),
  low: Math.min(low, mostTimes),
  high: Math.min(high, mostTimes),
});

/** Reopened before new before worse: worse when more reports came than chance would make of those before. */
export function newsOf({ state, isNew, change }: { state: CaseState; isNew: boolean; change: CaseChange | null }): CaseNews | null {
  if (state === 'reopened') return 'reopened';
  if (isNew) return 'new';
  // What was not there before in the window is no worse than it; how often it was before is not known.
  return change !== null && change.before > 0 && change.low > 1 ? 'worse' : null;
}
