import { dayMs } from '../durations.ts';
import type { Day } from '../session-index/person-day.ts';
import type { Counts, Sums } from '../session-index/tally.ts';
import { type BadEnds, badRate, badSessions } from './figures.ts';
import type { Estimate } from './share.ts';

/** What a target allows in a month, and what of that is used up. */
export interface TargetBudget {
  /** Share of sessions without a bad end that the app aims at, in percent. */
  readonly targetPercent: number;
  readonly month: { readonly first: Day; readonly last: Day };
  /** Bad sessions so far, of those that the target allows in the whole month if as many sessions come as in the last days: 1 is all. */
  readonly used: number;
  /** Share of the month that is over. */
  readonly elapsed: number;
  /** Sessions of the whole month without a bad end, if it goes on as in the last days; the interval is that of their rate. */
  readonly atTheEnd: Estimate;
  /** The day on which all is used up at the rate of the last days, at the earliest and the latest; null where that is not this month. */
  readonly usedUpOn: { readonly day: Day | null; readonly earliest: Day | null; readonly latest: Day | null } | null;
  /** Whether the month will meet the target, as surely as the rate of the last days is known. */
  readonly verdict: 'will-meet' | 'will-miss' | 'open' | 'missed';
}

/** The days of the month of UTC that a day lies in. */
export function monthOf(today: Day): { readonly first: Day; readonly last: Day } {
  const date = new Date(today * dayMs);
  const firstOf = (month: number) => Math.floor(Date.UTC(date.getUTCFullYear(), month, 1) / dayMs);
  return { first: firstOf(date.getUTCMonth()), last: firstOf(date.getUTCMonth() + 1) - 1 };
}

/**
 * Reckons a month's budget: the bad sessions that a target allows, of the sessions so far and those that the last days let expect.
 * `now` in milliseconds since 1970; `recent` are the sessions of the last `recentDays` whole days. Null before there is any.
 */
export function targetBudget(
  { soFar, recent, recentDays }: { readonly soFar: Sums; readonly recent: Counts; readonly recentDays: number },
  { targetPercent, badEnds, now }: { readonly targetPercent: number; readonly badEnds: BadEnds; readonly now: number },
): TargetBudget | null {
  if (soFar.sessions + recent.sessions === 0) return null;
  const today = Math.floor(now / dayMs);
  const month = monthOf(today);
  const daysLeft = month.last + 1 - now / dayMs;
  const daily = recent.sessions / recentDays;
  const bad = badSessions(soFar, badEnds).hits;
  const sessions = soFar.sessions + daily * daysLeft;
  const allowed = sessions * (1 - targetPercent / 100);
  const rate = badRate(recent, badEnds);
  const freeAt = (perThousand: number) => 1 - (bad + (daily * daysLeft * perThousand) / 1_000) / sessions;
  const atTheEnd = { value: freeAt(rate.value || 0), low: freeAt(rate.high), high: freeAt(rate.low) };
  const usedUpAfter = (perThousand: number): Day | null => {
    const days = (1_000 * (allowed - bad)) / (daily * perThousand);
    return days >= daysLeft || Number.isNaN(days) ? null : Math.floor(now / dayMs + Math.max(0, days));
  };
  const earliest = usedUpAfter(rate.high);
  return {
    targetPercent,
    month,
    used: bad === 0 ? 0 : Math.min(mostUsed, bad / allowed),
    elapsed: 1 - daysLeft / (month.last + 1 - month.first),
    atTheEnd,
    usedUpOn: earliest === null ? null : { day: usedUpAfter(rate.value), earliest, latest: usedUpAfter(rate.low) },
    verdict: bad > allowed ? 'missed' : verdictOf(atTheEnd, targetPercent / 100),
  };
}

/** Of a target that allows nothing; JSON knows no infinity. */
const mostUsed = 1_000;

const verdictOf = ({ low, high }: Estimate, target: number): TargetBudget['verdict'] =>
  low >= target ? 'will-meet' : high < target ? 'will-miss' : 'open';
