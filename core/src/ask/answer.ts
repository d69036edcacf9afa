import type { Split } from '../cases/desk-settings.ts';
import type { Scope } from '../scope/scope.ts';
import type { AskedSplit, Figure } from './asked.ts';
import type { Histogram } from './number-cells.ts';
import type { StepName } from './question.ts';

/** One value of each field with what was found of it. */
export interface AnswerGroup {
  /** A place in the values of each split. */
  readonly places: readonly number[];
  readonly sum: Figure;
  /** In each step of time; null where time is not divided. */
  readonly course: readonly Figure[] | null;
  /** In the window of the same length before; null where that is not asked for. */
  readonly before: Figure | null;
}

/** What a question came to. */
export interface Answer {
  /** As it was understood, in the words that it can be asked by again. */
  readonly question: string;
  readonly scope: Scope;
  readonly address: string;
  readonly splits: readonly (Split & AskedSplit & { readonly called: string })[];
  /** When each step begins, in milliseconds since 1970; of days since a release, how many there are. */
  readonly steps: { readonly every: StepName; readonly starts: readonly number[] } | null;
  /** Versions in their order; of other fields the largest first, others and untold ones last. */
  readonly groups: readonly AnswerGroup[];
  readonly total: Figure;
  readonly before: Figure | null;
  /** How the values of an attribute are spread. */
  readonly histogram: Histogram | null;
  /** The first and the last day that is counted, in UTC; no first one when everything is. */
  readonly from: string | null;
  readonly to: string;
  /** Relative error of the numbers of sessions and people, when a sample stands for all; 0 when they are exact. */
  readonly error: number;
  /** Conditions of the filter that sessions cannot be asked for. */
  readonly unasked: readonly string[];
  /** What divides that which is counted, and not what it is counted against. */
  readonly undivided: readonly string[];
  /** Attributes that reports are not told apart by yet. */
  readonly notFilterable: readonly string[];
  readonly now: string;
}
