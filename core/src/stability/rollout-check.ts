import { z } from 'zod';
import type { Counts } from '../session-index/tally.ts';
import { type Comparison, compareShares } from './difference.ts';
import { badSessions, freeOf, perThousand } from './figures.ts';
import { normalQuantile, of95Percent } from './normal-quantile.ts';
import type { Estimate } from './share.ts';

/** What an app asks of a version before it may go to more people. A condition that is null is not asked. */
export const rolloutConditionsSchema = z.object({
  /** Sessions that there must be before anything is said. */
  sessions: z.int().min(0).max(100_000_000).nullable().default(1_000),
  /** Share of sessions without a crash in percent, which the lower end of the interval must reach. */
  crashFreePercent: z.number().min(0).max(100).nullable().default(98.5),
  /** Crashes in the first five seconds for 1,000 sessions, which the upper end of the interval must not exceed. */
  startCrashesPerThousand: z.number().min(0).max(1_000).nullable().default(3),
  /** People whom a case that began in this version may hit. */
  newCasePeople: z.int().min(0).max(100_000_000).nullable().default(20),
  /** No symbol file that its reports ask for may be missing. */
  symbols: z.boolean().default(true),
  /** It must not be worse than the version before. */
  notWorse: z.boolean().default(true),
});
export type RolloutConditions = z.infer<typeof rolloutConditionsSchema>;

/** What is known of a version. */
export interface RolloutEvidence {
  readonly counts: Counts;
  /** The version before, over the same days; null when there is none. */
  readonly before: { readonly version: string; readonly counts: Counts } | null;
  /** Cases that began in the version, those with most people first. */
  readonly newCases: readonly { readonly ref: string; readonly title: string; readonly people: number }[];
  /** Symbol files that are missing, each with how many reports it costs. */
  readonly missing: readonly { readonly file: string; readonly reports: number }[];
}

export type Outcome = 'met' | 'not-met' | 'too-early';

/** One condition with what it was judged by. */
export type CheckedCondition = { readonly outcome: Outcome } & (
  | { readonly condition: 'sessions'; readonly wanted: number; readonly sessions: number }
  | {
      readonly condition: 'crash-free';
      readonly wantedPercent: number;
      readonly crashFree: Estimate;
      /** How many more sessions it takes to tell; null where that cannot be said. */
      readonly more: number | null;
    }
  | { readonly condition: 'start-crashes'; readonly mostPerThousand: number; readonly rate: Estimate; readonly more: number | null }
  | { readonly condition: 'new-cases'; readonly mostPeople: number; readonly cases: RolloutEvidence['newCases'] }
  | { readonly condition: 'symbols'; readonly missing: RolloutEvidence['missing'] }
  | { readonly condition: 'not-worse'; readonly than: string | null; readonly comparison: Comparison | null }
);

export interface RolloutCheck {
  /** It may go on, it must not, or it is too early to say. */
  readonly verdict: 'go' | 'stop' | 'wait';
  readonly conditions: readonly CheckedCondition[];
}

/** Judges whether a version may go to more people; every condition is told with its figures. */
export function checkRollout(conditions: RolloutConditions, evidence: RolloutEvidence): RolloutCheck {
  const checked = [
    ...checkSessions(conditions, evidence),
    ...checkCrashFree(conditions, evidence),
    ...checkStartCrashes(conditions, evidence),
    ...checkNewCases(conditions, evidence),
    ...checkSymbols(conditions, evidence),
    ...checkNotWorse(conditions, evidence),
  ];
  const outcomes = new Set(checked.map((one) => one.outcome));
  return { verdict: outcomes.has('not-met') ? 'stop' : outcomes.has('too-early') ? 'wait' : 'go', conditions: checked };
}

function checkSessions({ sessions: wanted }: RolloutConditions, { counts: { sessions } }: RolloutEvidence): CheckedCondition[] {
  if (wanted === null) return [];
  return [{ condition: 'sessions', outcome: sessions >= wanted ? 'met' : 'too-early', wanted, sessions }];
}

function checkCrashFree({ crashFreePercent: wantedPercent }: RolloutConditions, { counts }: RolloutEvidence): CheckedCondition[] {
  if (wantedPercent === null) return [];
  const bad = badSessions(counts);
  const crashFree = freeOf(bad);
  const bound = wantedPercent / 100;
  const outcome = crashFree.low >= bound ? 'met' : crashFree.high < bound ? 'not-met' : 'too-early';
  return [
    { condition: 'crash-free', outcome, wantedPercent, crashFree, more: outcome === 'too-early' ? moreToReach(bad, 1 - bound) : null },
  ];
}

function checkStartCrashes({ startCrashesPerThousand: most }: RolloutConditions, { counts }: RolloutEvidence): CheckedCondition[] {
  if (most === null) return [];
  const part = { hits: counts.crashedAtStart, count: counts.sessions };
  const rate = perThousand(part);
  const outcome = rate.high <= most ? 'met' : rate.low > most ? 'not-met' : 'too-early';
  const more = outcome === 'too-early' ? moreToReach(part, most / 1_000) : null;
  return [{ condition: 'start-crashes', outcome, mostPerThousand: most, rate, more }];
}

/** How many more sessions it takes until the interval of a share no longer holds a bound, if the share stays what it is. */
function moreToReach({ hits, count }: { hits: number; count: number }, bound: number): number | null {
  if (count === 0) return null;
  const share = (hits + 0.5) / (count + 1);
  const distance = Math.abs(share - bound);
  if (distance < 1e-6) return null;
  const wanted = Math.ceil(((of95Percent + normalQuantile(0.8)) ** 2 * bound * (1 - bound)) / distance ** 2);
  return wanted <= count ? null : wanted - count;
}

function checkNewCases({ newCasePeople: most }: RolloutConditions, { newCases }: RolloutEvidence): CheckedCondition[] {
  if (most === null) return [];
  const cases = newCases.filter((one) => one.people > most);
  return [{ condition: 'new-cases', outcome: cases.length === 0 ? 'met' : 'not-met', mostPeople: most, cases }];
}

function checkSymbols({ symbols }: RolloutConditions, { missing }: RolloutEvidence): CheckedCondition[] {
  return symbols ? [{ condition: 'symbols', outcome: missing.length === 0 ? 'met' : 'not-met', missing }] : [];
}

function checkNotWorse({ notWorse }: RolloutConditions, { counts, before }: RolloutEvidence): CheckedCondition[] {
  if (!notWorse) return [];
  if (before === null || before.counts.sessions === 0) return [{ condition: 'not-worse', outcome: 'met', than: null, comparison: null }];
  const comparison = compareShares(badSessions(counts), badSessions(before.counts));
  const outcome = comparison.verdict === 'worse' ? 'not-met' : comparison.verdict === 'too-early' ? 'too-early' : 'met';
  return [{ condition: 'not-worse', outcome, than: before.version, comparison }];
}
