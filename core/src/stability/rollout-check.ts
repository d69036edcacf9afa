import { z } from 'zod';
import type { Counts } from '../session-index/tally.ts';
import { badSessions } from './figures.ts';
import { type Deviations, deviationsFor } from './looking.ts';
import { normalQuantile } from './normal-quantile.ts';
import type { Estimate } from './share.ts';
import { freeLookedAt, shareLookedAt } from './share-looked-at.ts';
import type { Part } from './sides.ts';
import type { VersionComparison } from './version-comparison.ts';

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
  /** It must not be worse than the last version that was out to everybody. */
  notWorse: z.boolean().default(true),
});
export type RolloutConditions = z.infer<typeof rolloutConditionsSchema>;

/** What is known of a version. */
export interface RolloutEvidence {
  readonly counts: Counts;
  /** Against the version that it is compared with; null when there is none. */
  readonly comparison: VersionComparison | null;
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
      /** About how many more sessions it takes to tell; null where that cannot be said. */
      readonly more: number | null;
    }
  | { readonly condition: 'start-crashes'; readonly mostPerThousand: number; readonly rate: Estimate; readonly more: number | null }
  | { readonly condition: 'new-cases'; readonly mostPeople: number; readonly cases: RolloutEvidence['newCases'] }
  | { readonly condition: 'symbols'; readonly missing: RolloutEvidence['missing'] }
  | { readonly condition: 'not-worse'; readonly comparison: VersionComparison | null }
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
  const effect = counts.effects.bad;
  const crashFree = freeLookedAt(counts);
  const bound = wantedPercent / 100;
  const outcome = crashFree.low >= bound ? 'met' : crashFree.high < bound ? 'not-met' : 'too-early';
  const more = outcome === 'too-early' ? moreToReach(badSessions(counts), { bound: 1 - bound, counts, effect }) : null;
  return [{ condition: 'crash-free', outcome, wantedPercent, crashFree, more }];
}

function checkStartCrashes({ startCrashesPerThousand: most }: RolloutConditions, { counts }: RolloutEvidence): CheckedCondition[] {
  if (most === null) return [];
  const part = { hits: counts.crashedAtStart, count: counts.sessions };
  const effect = counts.effects.crashedAtStart;
  const { value, low, high } = shareLookedAt(part, { counts, effect });
  const rate = { value: 1_000 * value, low: 1_000 * low, high: 1_000 * high };
  const outcome = rate.high <= most ? 'met' : rate.low > most ? 'not-met' : 'too-early';
  const more = outcome === 'too-early' ? moreToReach(part, { bound: most / 1_000, counts, effect }) : null;
  return [{ condition: 'start-crashes', outcome, mostPerThousand: most, rate, more }];
}

/** About how many more sessions it takes until the interval of a share no longer holds a bound, if the share stays what it is. */
function moreToReach({ hits, count }: Part, { bound, counts, effect }: { bound: number; counts: Counts; effect: number }): number | null {
  if (count === 0) return null;
  const share = (hits + 0.5) / (count + 1);
  const distance = Math.abs(share - bound);
  if (distance < 1e-6) return null;
  const { above }: Deviations = deviationsFor('always', Math.max(1, counts.persons));
  const wanted = (effect * (above + normalQuantile(0.8)) ** 2 * bound * (1 - bound)) / distance ** 2;
  return wanted <= count ? null : roundedUp(wanted - count);
}

/** A number that is only about right, with two digits that tell. */
function roundedUp(count: number): number {
  const step = 10 ** Math.max(0, Math.floor(Math.log10(Math.max(1, count))) - 1);
  return Math.ceil(count / step) * step;
}

function checkNewCases({ newCasePeople: most }: RolloutConditions, { newCases }: RolloutEvidence): CheckedCondition[] {
  if (most === null) return [];
  const cases = newCases.filter((one) => one.people > most);
  return [{ condition: 'new-cases', outcome: cases.length === 0 ? 'met' : 'not-met', mostPeople: most, cases }];
}

/** What cannot be read may be any case, so as long as a file is missing nobody knows which cases there are. */
function checkSymbols({ symbols }: RolloutConditions, { missing }: RolloutEvidence): CheckedCondition[] {
  return symbols ? [{ condition: 'symbols', outcome: missing.length === 0 ? 'met' : 'too-early', missing }] : [];
}

function checkNotWorse({ notWorse }: RolloutConditions, { comparison }: RolloutEvidence): CheckedCondition[] {
  if (!notWorse) return [];
  const verdict = comparison?.sessions.verdict ?? 'alike';
  const outcome = verdict === 'worse' ? 'not-met' : verdict === 'too-early' ? 'too-early' : 'met';
  return [{ condition: 'not-worse', outcome, comparison }];
}
