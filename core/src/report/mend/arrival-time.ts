import { dayMs } from '../../durations.ts';
import type { Report } from '../report.ts';
import type { TrailEvent } from '../trail.ts';
import { withRemarks } from './fit-report.ts';

/** How long an item may have waited on its device; a time before that is one of a clock that cannot be right. */
export const longestWaitMs = 180 * dayMs;

/** Clocks differ by so much without being called wrong. */
const tolerableAheadMs = 5 * 60_000;

/**
 * What a device's clock is off by, in milliseconds, where it cannot be right: it says later than the arrival, or so much earlier
 * that nothing waits that long. 0 where it may be right.
 */
export function clockError(told: string, receivedAt: string): number {
  const error = Date.parse(told) - Date.parse(receivedAt);
  return error > 0 || error < -longestWaitMs ? error : 0;
}

/**
 * A report at a time that can be: where the device's clock is wrong, the time of arrival stands for it, and what came before it keeps
 * its distance. An old file that a person hands over is old, and no clock is wrong.
 */
export function landAtArrival(report: Report, { receivedAt, byHand = false }: { receivedAt: string; byHand?: boolean }): Report {
  const error = clockError(report.occurredAt, receivedAt);
  if (error === 0 || (byHand && error < 0)) return report;
  const landed = { ...report, occurredAt: receivedAt, trail: report.trail.map((event) => movedBack(event, error)) };
  const isWorthTelling = error > tolerableAheadMs || error < 0;
  return isWorthTelling
    ? withRemarks(landed, [`occurredAt is ${report.occurredAt} by a clock that cannot be right; the time of arrival stands for it`])
    : landed;
}

/** An event so many milliseconds earlier. */
export const movedBack = (event: TrailEvent, ms: number): TrailEvent => ({
  ...event,
  at: new Date(Date.parse(event.at) - ms).toISOString(),
});
