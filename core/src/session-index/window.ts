import { daysSpanned, type Scope } from '../scope/scope.ts';
import { dayOf } from './person-day.ts';
import type { DaySpan } from './session-rows.ts';

const everFrom = 0;
const everTo = 65_535;

/**
 * The days that a scope is about, of reports and sessions alike, so that a rate has both of the same hours: today and those before it, each
 * a whole day of UTC.
 */
export function spanOf({ days }: Pick<Scope, 'days'>, now: number): DaySpan {
  const today = dayOf(now);
  return days === null ? { first: everFrom, last: everTo } : { first: today - daysSpanned(days) + 1, last: today };
}

/** The days of the same length before those; null when the scope is all time. */
export function spanBefore(scope: Pick<Scope, 'days'>, now: number): DaySpan | null {
  if (scope.days === null) return null;
  const { first } = spanOf(scope, now);
  return { first: first - daysSpanned(scope.days), last: first - 1 };
}
