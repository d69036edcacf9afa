/** Careful steps into a JSON document that nobody checked: what is not there, or is something else, is null. */
export type Json = null | boolean | number | string | readonly Json[] | { readonly [name: string]: Json };
export type JsonObject = { readonly [name: string]: Json };

export const asObject = (value: Json | undefined): JsonObject | null =>
  typeof value === 'object' && value !== null && !Array.isArray(value) ? (value as JsonObject) : null;
export const asList = (value: Json | undefined): readonly Json[] => (Array.isArray(value) ? (value as readonly Json[]) : []);
export const asObjects = (value: Json | undefined): JsonObject[] =>
  asList(value).flatMap((one) => {
    const object = asObject(one);
    return object ? [object] : [];
  });
export const asText = (value: Json | undefined): string | null => (typeof value === 'string' ? value : null);
export const asNumber = (value: Json | undefined): number | null => (typeof value === 'number' && Number.isFinite(value) ? value : null);
/** A whole number from 0 that a double holds exactly; also when it was written as text. */
export function asCount(value: Json | undefined): number | null {
  const number = typeof value === 'string' && /^\d{1,16}$/.test(value) ? Number(value) : asNumber(value);
  return number !== null && Number.isSafeInteger(number) && number >= 0 ? number : null;
}

/** An unsigned 64-bit number as `0x…`. Numbers beyond 2^53 have lost digits in JSON already; they are taken as they came. */
export function asHexadecimal(value: Json | undefined): string | null {
  const number = asNumber(value);
  if (number !== null && Number.isInteger(number) && number >= 0 && number < 2 ** 64) return `0x${BigInt(number).toString(16)}`;
  const text = asText(value);
  return text !== null && /^0x[0-9a-f]{1,16}$/i.test(text) ? text.toLowerCase() : null;
}

/** Parses a JSON text; null when it is none. */
export function parseJson(text: string): Json | undefined {
  try {
    return JSON.parse(text) as Json;
  } catch {
    return undefined;
  }
}

const deepestShown = 40;

/** A part of a document as text to be read, a line for each value. What lies too deep, which no system writes, is shown as "…". */
export function printJson(value: Json): string {
  const shown = (one: Json, depth: number): Json => {
    if (typeof one !== 'object' || one === null) return one;
    if (depth === deepestShown) return '…';
    if (Array.isArray(one)) return one.map((element) => shown(element, depth + 1));
    return Object.fromEntries(Object.entries(one).map(([name, inner]) => [name, shown(inner, depth + 1)]));
  };
  return JSON.stringify(shown(value, 0), null, 1);
}
