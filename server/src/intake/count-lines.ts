import { intakeLimits } from './intake-limits.ts';

const lineFeed = 0x0a;
const carriageReturn = 0x0d;

/** How many lines of a batch hold something; counting ends where either limit is passed, so that it takes no time worth telling. */
export function countItemLines(body: Buffer): { readonly items: number; readonly isTooMuch: boolean } {
  let items = 0;
  let lines = 0;
  for (let start = 0; start < body.length; ) {
    const found = body.indexOf(lineFeed, start);
    const end = found < 0 ? body.length : found;
    lines++;
    if (end > start && !(end === start + 1 && body[start] === carriageReturn)) items++;
    if (items > intakeLimits.items || lines > intakeLimits.lines) return { items, isTooMuch: true };
    start = end + 1;
  }
  return { items, isTooMuch: false };
}

const opensValue = new Set([0x2c, 0x5b, 0x7b]); // , [ {

/** Whether a JSON text may hold more values than are taken. It counts signs within texts too: a text of commas is none. */
export function hasTooManyValues(body: Uint8Array): boolean {
  let values = 0;
  for (const byte of body) if (opensValue.has(byte) && ++values > intakeLimits.jsonValues) return true;
  return false;
}
