import { z } from 'zod';

const known = new Map<string, boolean>();
const mostKnown = 1_000;

/** Whether a name is one of the IANA time zone database, such as `Europe/Oslo`. */
export function isTimeZone(name: string): boolean {
  const before = known.get(name);
  if (before !== undefined) return before;
  let is = true;
  try {
    new Intl.DateTimeFormat('en', { timeZone: name });
  } catch {
    is = false;
  }
  if (known.size < mostKnown) known.set(name, is);
  return is;
}

/** The name of a zone of the IANA database. */
export const timeZoneSchema = z.string().max(60).refine(isTimeZone, 'is no time zone of the IANA database, such as Europe/Oslo');
