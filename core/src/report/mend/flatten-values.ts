import { type Attributes, type AttributeValue, reportLimits } from '../limits.ts';
import type { Remarks } from './remarks.ts';

type Scalar = string | number | boolean;

/** Values within values are named by their path down to here; what lies deeper is left out. */
const deepestValue = 16;
/** So many values are looked at for the ones that are kept; nobody waits for the rest. */
const mostVisited = 10_000;

const isScalar = (value: unknown): value is Scalar => typeof value === 'string' || typeof value === 'boolean' || typeof value === 'number';

/**
 * Attributes out of whatever an app gave: an object within one becomes several, `game.moves[3].piece`; null is left out, texts
 * and lists are clipped to `reportLimits`, and numbers that JSON cannot hold become text.
 */
export function flattenAttributes(given: unknown, path: readonly PropertyKey[], remarks: Remarks): Attributes {
  return new Flattener(path, remarks).attributes(given, { limit: reportLimits.attributes, nulls: 'leave out' });
}

/** Flags out of whatever an app gave: numbers become text, and a list of variants one text. */
export function flattenFlags(given: unknown, path: readonly PropertyKey[], remarks: Remarks): Record<string, string> {
  const own = new Flattener(path, remarks);
  const flags: [string, string][] = [];
  for (const [name, value] of Object.entries(own.attributes(given, { limit: reportLimits.flags, nulls: 'none' }))) {
    const text = Array.isArray(value) ? value.join(', ') : String(value);
    if (typeof value !== 'string') remarks.note([...path, name], Array.isArray(value) ? 'is a list and became one text' : 'became text');
    if (text.length > reportLimits.flagCharacters)
      remarks.note([...path, name], `was clipped to ${reportLimits.flagCharacters} characters`);
    flags.push([name, clipText(text, reportLimits.flagCharacters)]);
  }
  return Object.fromEntries(flags);
}

/** The beginning of a text that is too long, marked as one. */
export const clipText = (text: string, characters: number): string =>
  text.length <= characters ? text : `${text.slice(0, Math.max(0, characters - 1))}…`;

class Flattener {
  private readonly values = new Map<string, AttributeValue>();
  private visited = 0;
  private beyond = 0;

  constructor(
    private readonly path: readonly PropertyKey[],
    private readonly remarks: Remarks,
  ) {}

  attributes(given: unknown, { limit, nulls }: { limit: number; nulls: 'leave out' | 'none' }): Attributes {
    if (typeof given !== 'object' || given === null) {
      if (given !== undefined && given !== null) this.remarks.note(this.path, 'is no object with named values and was left out');
      return {};
    }
    for (const [name, value] of Object.entries(given)) {
      if (value === null && nulls === 'none') this.keep(name, 'none', limit);
      else this.take(name, value, 0, limit);
    }
    if (this.beyond > 0) this.remarks.note(this.path, `are more than ${limit}; ${this.beyond} were left out`);
    return Object.fromEntries(this.values);
  }

  private take(name: string, value: unknown, depth: number, limit: number): void {
    if (++this.visited > mostVisited || depth > deepestValue) {
      this.beyond++;
      return;
    }
    if (isScalar(value)) this.keep(name, this.scalar(name, value), limit);
    else if (typeof value === 'bigint') this.keep(name, value.toString(), limit);
    else if (Array.isArray(value) && value.every((one) => isScalar(one) || one === null)) this.list(name, value, limit);
    else if (typeof value === 'object' && value !== null) this.nested(name, value, depth, limit);
    else this.remarks.note([...this.path, name], `is ${value === null ? 'null' : `a ${typeof value}`} and was left out`);
  }

  private nested(name: string, value: object, depth: number, limit: number): void {
    if (depth === 0) this.remarks.note([...this.path, name], 'holds values within values; each is kept under its own path');
    const inner: [string, unknown][] = Array.isArray(value)
      ? value.map((one, at) => [`${name}[${at}]`, one])
      : Object.entries(value).map(([key, one]) => [`${name}.${key}`, one]);
    for (const [path, one] of inner.slice(0, mostVisited)) this.take(path, one, depth + 1, limit);
  }

  private list(name: string, value: readonly (Scalar | null)[], limit: number): void {
    const present = value.filter(isScalar);
    if (present.length < value.length) this.remarks.note([...this.path, name], 'has null among its values, which was left out');
    if (present.length > reportLimits.listElements)
      this.remarks.note([...this.path, name], `has ${present.length} values; the first ${reportLimits.listElements} were kept`);
    this.keep(
      name,
      present.slice(0, reportLimits.listElements).map((one) => this.scalar(name, one)),
      limit,
    );
  }

  private scalar(name: string, value: Scalar): Scalar {
    if (typeof value === 'number' && !Number.isFinite(value)) return String(value);
    if (typeof value !== 'string' || value.length <= reportLimits.attributeCharacters) return value;
    this.remarks.note([...this.path, name], `was clipped to ${reportLimits.attributeCharacters} characters`);
    return clipText(value, reportLimits.attributeCharacters);
  }

  private keep(name: string, value: AttributeValue, limit: number): void {
    const short = clipText(name, reportLimits.attributeNameCharacters);
    if (short !== name)
      this.remarks.note([...this.path, short], `has a name that was clipped to ${reportLimits.attributeNameCharacters} characters`);
    if (this.values.size >= limit || this.values.has(short)) this.beyond++;
    else this.values.set(short, value);
  }
}
