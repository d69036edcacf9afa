const months = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

/** A moment as the clocks of a zone show it, each part as it is written. */
interface ClockFace {
  readonly date: string;
  readonly time: string;
  readonly seconds: string;
  /** `UTC`, `UTC+1`, `UTC-3:30` */
  readonly offset: string;
}

const formats = new Map<string, Intl.DateTimeFormat>();

function formatOf(zone: string): Intl.DateTimeFormat {
  const known = formats.get(zone);
  if (known) return known;
  const made = new Intl.DateTimeFormat('en-GB', {
    timeZone: zone,
    year: 'numeric',
    month: 'numeric',
    day: 'numeric',
    hour: '2-digit',
    minute: '2-digit',
    second: '2-digit',
    hourCycle: 'h23',
    timeZoneName: 'shortOffset',
  });
  formats.set(zone, made);
  return made;
}

function clockFace(iso: string, zone: string): ClockFace {
  const parts = new Map(
    formatOf(zone)
      .formatToParts(new Date(iso))
      .map(({ type, value }) => [type, value]),
  );
  const part = (type: Intl.DateTimeFormatPartTypes): string => parts.get(type) ?? '';
  return {
    date: `${Number(part('day'))} ${months[Number(part('month')) - 1]} ${part('year')}`,
    time: `${part('hour')}:${part('minute')}`,
    seconds: part('second'),
    // What is at no distance is written in two ways.
    offset: part('timeZoneName').replace(/^GMT(?:[+-]0)?$|^GMT/, 'UTC'),
  };
}

/** `22 Nov 2026, 17:59 UTC`, or in another zone `22 Nov 2026, 18:59 UTC+1`: what two people compare says its zone. */
export function wordTime(iso: string, zone = 'UTC'): string {
  const { date, time, offset } = clockFace(iso, zone);
  return `${date}, ${time} ${offset}`;
}

/** `22 Nov 2026` */
export const wordDate = (iso: string, zone = 'UTC'): string => clockFace(iso, zone).date;

/** `17:59:03 UTC` */
export function wordSeconds(iso: string, zone = 'UTC'): string {
  const { time, seconds, offset } = clockFace(iso, zone);
  return `${time}:${seconds} ${offset}`;
}

/** `17:59:03` on the day of `now`, else the date. */
export function wordClock(iso: string, now: string, zone = 'UTC'): string {
  const { date, time, seconds } = clockFace(iso, zone);
  return date === wordDate(now, zone) ? `${time}:${seconds}` : date;
}

/** How long something took, in one step: `a minute`, `4 hours`, `12 days`; null where it is less than a minute. */
export function wordSpan(from: string, to: string): string | null {
  const minutes = Math.floor((Date.parse(to) - Date.parse(from)) / 60_000);
  if (minutes < 1) return null;
  if (minutes < 60) return minutes === 1 ? 'a minute' : `${minutes} minutes`;
  const hours = Math.floor(minutes / 60);
  if (hours < 24) return hours === 1 ? 'an hour' : `${hours} hours`;
  const days = Math.floor(hours / 24);
  return days === 1 ? 'a day' : `${days} days`;
}

const longestAgoMs = 60 * 86_400_000;

/** How long ago, in one step: `just now`, `4 minutes ago`, `12 days ago`, then the date. */
export function wordAgo(iso: string, now: string): string {
  if (Date.parse(now) - Date.parse(iso) >= longestAgoMs) return `on ${wordDate(iso)}`;
  const span = wordSpan(iso, now);
  return span === null ? 'just now' : `${span} ago`;
}

/** `22 Nov`: a day near enough to need no year. */
export const wordDay = (iso: string): string => wordDate(iso).slice(0, -5);
