import type { RolloutStatus } from '../rollouts/rollouts.ts';
import type { CountedSides } from '../session-index/count-sides.ts';
import type { Day } from '../session-index/person-day.ts';
import type { DaySpan } from '../session-index/session-rows.ts';
import { compareVersions, isPreRelease, isSameVersion } from '../version/version-order.ts';
import { type Comparison, compareSides } from './comparison.ts';

/** What is known of a version when one looks for another to compare with. */
export interface KnownVersion {
  readonly version: string;
  /** Its sessions of each day from the first one that was looked at. */
  readonly sessionsOfDays: readonly number[];
  readonly personsOfDays: readonly number[];
  readonly rollout: RolloutStatus;
  /** The day of its first recorded step; null when none was recorded. */
  readonly firstStep: Day | null;
}

/** Why a version is compared with another: somebody chose it, everybody had it, or most people did of those before. */
export type BaselineReason = 'chosen' | 'out-to-everybody' | 'most-used';

export interface Baseline {
  readonly version: string;
  readonly reason: BaselineReason;
}

/** Sessions that a version must have had to be compared with. */
const enoughSessionsOfBaseline = 200;
/** A version of which no rollout was recorded was out to everybody when it had this share of a day's sessions. */
const shareOfEverybody = 0.5;

/**
 * What a version is compared with: the last one before it that was out to everybody, is no pre-release and was not halted, with enough
 * sessions; where there is none, the one before it that has most sessions. Null for the first version.
 */
export function baselineOf(version: string, known: readonly KnownVersion[], chosen: string | null = null): Baseline | null {
  const usual = usualBaselineOf(version, known);
  return chosen === null || (usual && isSameVersion(chosen, usual.version)) ? usual : { version: chosen, reason: 'chosen' };
}

function usualBaselineOf(version: string, known: readonly KnownVersion[]): Baseline | null {
  const before = known
    .filter((one) => compareVersions(one.version, version) < 0 && sum(one.sessionsOfDays) > 0)
    .sort((a, b) => compareVersions(a.version, b.version));
  const everybodys = before.findLast(
    (one) =>
      !isPreRelease(one.version) &&
      !one.rollout.halted &&
      sum(one.sessionsOfDays) >= enoughSessionsOfBaseline &&
      (one.rollout.percent === null ? largestShare(one, known) >= shareOfEverybody : one.rollout.percent === 100),
  );
  if (everybodys) return { version: everybodys.version, reason: 'out-to-everybody' };
  const [most] = before.sort((a, b) => sum(b.sessionsOfDays) - sum(a.sessionsOfDays));
  return most ? { version: most.version, reason: 'most-used' } : null;
}

const sum = (numbers: readonly number[]): number => numbers.reduce((total, one) => total + one, 0);

/** The largest share that a version had of a day's sessions, over days that were like others. */
function largestShare({ sessionsOfDays }: KnownVersion, known: readonly KnownVersion[]): number {
  const all = sessionsOfDays.map((_, day) => sum(known.map((one) => one.sessionsOfDays[day] ?? 0)));
  const usual = sum(all) / Math.max(1, all.filter((one) => one > 0).length);
  return Math.max(0, ...sessionsOfDays.map((own, day) => ((all[day] ?? 0) >= usual / 4 ? own / (all[day] as number) : 0)));
}

/**
 * The day on which a version came out: that of its first recorded step, else the first day on which several people had it, so that one
 * phone with a wrong clock moves nothing. Null where no session is of it. `first` is the day that the lists of days begin with.
 */
export function cameOutOn({ firstStep, sessionsOfDays, personsOfDays }: KnownVersion, first: Day): Day | null {
  if (firstStep !== null && firstStep >= first) return firstStep;
  const several = personsOfDays.findIndex((persons, day) => persons + (personsOfDays[day + 1] ?? 0) > 1 && persons > 0);
  const any = sessionsOfDays.findIndex((sessions) => sessions > 0);
  const day = several >= 0 ? several : any;
  return day < 0 ? null : first + day;
}

/** Which days of both sides are compared: the same ones, or those since each one's own release. */
export const alignments = ['days', 'release'] as const;
export type Alignment = (typeof alignments)[number];

/** The days of both sides, from the day the newer one came out to today. */
export function spansOf(
  newer: { readonly cameOut: Day },
  older: { readonly cameOut: Day },
  { alignment, today, longest }: { alignment: Alignment; today: Day; longest: number },
): { readonly newer: DaySpan; readonly older: DaySpan } {
  const own: DaySpan = { first: Math.max(newer.cameOut, today - longest + 1), last: today };
  if (alignment === 'days') return { newer: own, older: own };
  const age = own.first - newer.cameOut;
  return { newer: own, older: { first: older.cameOut + age, last: older.cameOut + age + own.last - own.first } };
}

/** How a version does against another, as every screen, the API and the command line tell it. */
export interface VersionComparison {
  readonly version: string;
  readonly than: string;
  readonly reason: BaselineReason;
  readonly alignment: Alignment;
  /** The days that were compared. */
  readonly spans: { readonly newer: DaySpan; readonly older: DaySpan };
  readonly sessions: Comparison;
  /** People in place of sessions. Short use is rewarded by it, so that it carries no verdict of its own. */
  readonly persons: Comparison;
  /** A sample of persons stands for all. */
  readonly isSample: boolean;
  /** The day by which half of what can be told now will be; null where a verdict is there, or nothing can be told yet. */
  readonly halfBy: Day | null;
}

/** Compares two versions as somebody does who always looks. */
export function compareVersionSides(
  about: Pick<VersionComparison, 'version' | 'than' | 'reason' | 'alignment' | 'spans'>,
  { sampling, sessions, persons, standardised }: CountedSides,
): VersionComparison {
  const comparison = compareSides(sessions, 'always', standardised);
  return {
    ...about,
    sessions: comparison,
    persons: compareSides(persons, 'always'),
    isSample: sampling === 'sample',
    halfBy: comparison.verdict === 'too-early' && comparison.detectable !== null ? halfBy(about.spans.newer) : null,
  };
}

/** An error falls with the root of what is counted: half of it takes four times the days, if they bring as much each. */
const halfBy = ({ first, last }: DaySpan): Day => first + 4 * (last - first + 1) - 1;
