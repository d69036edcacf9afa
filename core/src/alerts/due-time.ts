import type { Pace } from './alert-rule.ts';

/** When somebody wants no message: minutes of their day from and up to which they are left alone; it may go over midnight. */
export interface QuietHours {
  readonly from: number;
  readonly to: number;
}

/** Whose day and week it is. */
export interface Calendar {
  /** IANA name of their time zone. */
  readonly zone: string;
  readonly quiet: QuietHours | null;
}

const minuteMs = 60_000;
const dayMinutes = 24 * 60;

/** What happens at once is told together: a bad version makes many cases within a moment. */
export const gatheredMs = 2_000;
/** Minute of the day at which what is gathered for a day is told. */
export const dailyAt = 8 * 60;

const formats = new Map<string, Intl.DateTimeFormat>();

/** The minute of the day and the day of the week (0 is Sunday) of a moment in a zone. */
export function localTime(at: number, zone: string): { readonly minute: number; readonly weekday: number } {
  let format = formats.get(zone);
  if (!format) {
    format = new Intl.DateTimeFormat('en-US', { timeZone: zone, hourCycle: 'h23', weekday: 'short', hour: 'numeric', minute: 'numeric' });
    formats.set(zone, format);
  }
  const parts = Object.fromEntries(format.formatToParts(at).map(({ type, value }) => [type, value]));
  return {
    minute: 60 * Number(parts.hour) + Number(parts.minute),
    weekday: ['Sun', 'Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat'].indexOf(parts.weekday as string),
  };
}

/**
 * The first moment from `at` on at which the clock of a zone shows a minute of the day. Where the clock is put forward over that minute, the
 * first moment behind the gap.
 */
function nextAt(at: number, minute: number, zone: string): number {
  const start = Math.ceil(at / minuteMs) * minuteMs;
  const shown = localTime(start, zone).minute;
  const guess = start + ((minute - shown + dayMinutes) % dayMinutes) * minuteMs;
  // A change of the clock on the way moves it by no more than some hours.
  const off = (((localTime(guess, zone).minute - minute + dayMinutes * 1.5) % dayMinutes) - dayMinutes / 2) * minuteMs;
  const moved = guess - off;
  if (moved >= start && localTime(moved, zone).minute === minute) return moved;
  if (localTime(guess, zone).minute === minute) return guess;
  // The minute is not there on this day, or it lies before: the clock shows a later one at once.
  const behind = Math.max(guess, moved);
  return behind >= start ? behind : behind + dayMinutes * minuteMs;
}

const isWeekend = (at: number, zone: string): boolean => [0, 6].includes(localTime(at, zone).weekday);

/** The end of the quiet hours that a moment lies in; the moment itself outside of them. */
function afterQuiet(at: number, { zone, quiet }: Calendar): number {
  if (quiet === null || quiet.from === quiet.to) return at;
  const { minute } = localTime(at, zone);
  const isQuiet = quiet.from < quiet.to ? minute >= quiet.from && minute < quiet.to : minute >= quiet.from || minute < quiet.to;
  return isQuiet ? nextAt(at, quiet.to, zone) : at;
}

/**
 * When somebody is told of what happened at `at` (milliseconds since 1970): at once, unless they were told by the same rule a short while
 * before; at the full hour; or at eight in the morning; never in their quiet hours, and on working days alone where the rule says so.
 */
export function dueTime(at: number, pace: Pace, calendar: Calendar, lastDueAt: number | null): number {
  const { zone } = calendar;
  let due: number;
  if (pace.when === 'hourly') due = nextAt(at, (60 * (Math.floor(localTime(at, zone).minute / 60) + 1)) % dayMinutes, zone);
  else if (pace.when === 'daily') due = nextAt(at + minuteMs, dailyAt, zone);
  else if (lastDueAt !== null && lastDueAt > at) due = lastDueAt;
  else due = Math.max(at + gatheredMs, lastDueAt === null ? 0 : lastDueAt + pace.everyMinutes * minuteMs);
  due = afterQuiet(due, calendar);
  // At most a weekend lies between.
  for (let days = 0; pace.workingDays && days < 4 && isWeekend(due, zone); days++)
    due = afterQuiet(nextAt(due + minuteMs, dailyAt, zone), calendar);
  return due;
}
