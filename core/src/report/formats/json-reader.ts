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

/** A text that begins like JSON: one document, or two of which the first is a line that says what the second is about. */
export interface JsonText {
  /** The only document, when it is an object. */
  readonly whole: JsonObject | null;
  /** The only document, when it is a list. */
  readonly list: Json | null;
  /** The document of the first line, and that of the lines behind it. */
  readonly head: JsonObject | null;
  readonly body: JsonObject | null;
  /** What stands behind the first line. */
  readonly rest: string;
}

/** Reads a text as one document or two. */
export function readJsonText(text: string): JsonText {
  const document = parseJson(text);
  const whole = asObject(document);
  const list = Array.isArray(document) ? (document as Json) : null;
  const none = { whole, list, head: null, body: null, rest: '' };
  if (whole || list !== null) return none;
  const lineEnd = text.indexOf('\n', text.search(/\S/));
  if (lineEnd < 0) return none;
  const rest = text.slice(lineEnd + 1);
  return { ...none, head: asObject(parseJson(text.slice(0, lineEnd))), body: asObject(parseJson(rest)), rest };
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
