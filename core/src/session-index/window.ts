import type { Scope } from '../scope/scope.ts';
import { dayOf } from './person-day.ts';
import type { DaySpan } from './session-rows.ts';

const everFrom = 0;
const everTo = 65_535;

/** The days whose sessions a scope is about: today and as many before as the scope is long, each a whole day of UTC. */
export function spanOf({ days }: Pick<Scope, 'days'>, now: number): DaySpan {
  const today = dayOf(now);
  return days === null ? { first: everFrom, last: everTo } : { first: today - days + 1, last: today };
}

/** The days of the same length before those; null when the scope is all time. */
export function spanBefore(scope: Pick<Scope, 'days'>, now: number): DaySpan | null {
  if (scope.days === null) return null;
  const { first } = spanOf(scope, now);
  return { first: first - scope.days, last: first - 1 };
}
