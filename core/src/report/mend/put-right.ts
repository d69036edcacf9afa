import type { z } from 'zod';
import { clipText } from './flatten-values.ts';
import type { Remarks } from './remarks.ts';

type Path = readonly PropertyKey[];
type Issue = z.core.$ZodIssue;
type Holder = Record<PropertyKey, unknown>;

/** What stands in a required place whose value cannot be used; undefined: nothing can, and what holds it goes. */
export type StandIn = (path: Path, given: unknown) => { readonly value: unknown; readonly words: string } | undefined;

/** Each round mends all that the schema complains of; what is left out at one level may be missed at the one above. */
const mostRounds = 16;
/** Marks an element of a list that goes at the end of a round, so that positions hold until then. */
const gone = Symbol('gone');

/**
 * Makes a value fit a schema by changing as little of it as possible: clips, turns into the type that is wanted, and leaves out
 * what cannot be used. The value is changed in place. Gives what the schema makes of it, or why nothing can be made of it.
 */
export function putRight<Schema extends z.ZodType>(
  schema: Schema,
  value: object,
  { standIn, remarks }: { standIn: StandIn; remarks: Remarks },
): { readonly ok: true; readonly value: z.output<Schema> } | { readonly ok: false; readonly error: z.ZodError } {
  for (let round = 1; ; round++) {
    const parsed = schema.safeParse(value);
    if (parsed.success) return { ok: true, value: parsed.data };
    const mender = new Mender(value as Holder, standIn, remarks);
    const isMended = round < mostRounds && parsed.error.issues.every((issue) => mender.mend(issue));
    if (!isMended) return { ok: false, error: parsed.error };
    mender.dropGone();
  }
}

class Mender {
  private readonly shortened = new Set<unknown[]>();
  private readonly mended = new Set<string>();

  constructor(
    private readonly root: Holder,
    private readonly standIn: StandIn,
    private readonly remarks: Remarks,
  ) {}

  /** Mends what one issue complains of; false when nothing is left that could be. */
  mend(issue: Issue): boolean {
    const { path } = issue;
    // What else was wrong with a value is another matter once it was changed: the next round looks again.
    const place = JSON.stringify(path);
    if (this.mended.has(place)) return true;
    this.mended.add(place);
    const value = this.at(path);
    if (value === gone) return true;
    if (issue.code === 'unrecognized_keys') return this.dropUnknown(value, path, issue.keys);
    const fitting = fit(issue, value);
    if (fitting) return this.set(path, fitting.value, fitting.words);
    return this.replace(path, value, issue.message);
  }

  /** Takes out the elements that were given up in this round. */
  dropGone(): void {
    for (const list of this.shortened) list.splice(0, list.length, ...list.filter((one) => one !== gone));
  }

  private at(path: Path): unknown {
    let value: unknown = this.root;
    for (const part of path) {
      if (value === gone) return gone;
      value = typeof value === 'object' && value !== null && Object.hasOwn(value, part) ? (value as Holder)[part] : undefined;
    }
    return value;
  }

  private set(path: Path, value: unknown, words: string): boolean {
    const holder = this.at(path.slice(0, -1));
    if (path.length === 0 || typeof holder !== 'object' || holder === null) return false;
    // A name such as "__proto__" is a value like any other.
    Object.defineProperty(holder, path.at(-1) as PropertyKey, { value, writable: true, enumerable: true, configurable: true });
    this.remarks.note(path, words);
    return true;
  }

  /** Puts something in place of what cannot be used, or leaves it out, or else what holds it. */
  private replace(path: Path, value: unknown, message: string): boolean {
    if (path.length === 0) return false;
    const standIn = this.standIn(path, value);
    if (standIn) return this.set(path, standIn.value, standIn.words);
    if (value !== undefined) return this.drop(path, `cannot be used (${lowerFirst(message)}) and was left out`);
    const above = path.slice(0, -1);
    return above.length > 0 && this.replace(above, this.at(above), `lacks "${String(path.at(-1))}"`);
  }

  private drop(path: Path, words: string): boolean {
    const holder = this.at(path.slice(0, -1));
    if (holder === gone) return true;
    if (Array.isArray(holder)) {
      holder[path.at(-1) as number] = gone;
      this.shortened.add(holder);
    } else if (typeof holder === 'object' && holder !== null) delete (holder as Holder)[path.at(-1) as PropertyKey];
    else return false;
    this.remarks.note(path, words);
    return true;
  }

  private dropUnknown(holder: unknown, path: Path, keys: readonly string[]): boolean {
    for (const key of keys) {
      delete (holder as Holder)[key];
      this.remarks.note([...path, clipText(key, 60)], 'is no field here and was left out');
    }
    return true;
  }
}

const lowerFirst = (message: string): string => message.charAt(0).toLowerCase() + message.slice(1);

/** The same value made to fit, when it is only too long, too large, or of another type. */
function fit(issue: Issue, value: unknown): { value: unknown; words: string } | null {
  switch (issue.code) {
    case 'too_big':
      return shorten(value, Number(issue.maximum));
    case 'too_small':
      return typeof value === 'number' ? { value: Number(issue.minimum), words: `is too small and became ${issue.minimum}` } : null;
    case 'invalid_type':
      return convert(value, issue.expected);
    case 'invalid_value':
      return alike(value, issue.values);
    case 'invalid_format':
      return typeof value === 'string'
        ? respell(value, issue.format === 'regex' ? (issue as { pattern?: string }).pattern : undefined)
        : null;
    default:
      return null;
  }
}

function shorten(value: unknown, maximum: number): { value: unknown; words: string } | null {
  if (typeof value === 'string') return { value: clipText(value, maximum), words: `was clipped to ${maximum} characters` };
  if (typeof value === 'number') return { value: maximum, words: `is too large and became ${maximum}` };
  if (Array.isArray(value)) {
    const words = `has ${value.length} entries; ${maximum} were kept`;
    return { value: value.slice(0, maximum), words };
  }
  if (typeof value !== 'object' || value === null) return null;
  const pairs = Object.entries(value);
  return { value: Object.fromEntries(pairs.slice(0, maximum)), words: `has ${pairs.length} entries; ${maximum} were kept` };
}

/** A value of another type that means the same. */
function convert(value: unknown, expected: string): { value: unknown; words: string } | null {
  if (value === null || value === undefined) return null;
  if (expected === 'string' && (typeof value === 'number' || typeof value === 'boolean'))
    return { value: String(value), words: 'became text' };
  if (expected === 'number' || expected === 'int') {
    const number = typeof value === 'string' && /^\s*-?\d{1,15}(?:\.\d{1,9})?\s*$/.test(value) ? Number(value) : value;
    if (typeof number !== 'number' || !Number.isFinite(number)) return null;
    const whole = expected === 'int' ? Math.round(number) : number;
    return whole === value ? null : { value: whole, words: typeof value === 'string' ? 'became a number' : 'became a whole number' };
  }
  if (expected === 'boolean' && (value === 'true' || value === 'false' || value === 0 || value === 1))
    return { value: value === 'true' || value === 1, words: 'became true or false' };
  if (expected === 'array' && typeof value !== 'boolean') return { value: [value], words: 'became a list of one' };
  return null;
}

/** One of the values that are known, if it is one but for its case. */
function alike(value: unknown, known: readonly unknown[]): { value: unknown; words: string } | null {
  if (typeof value !== 'string') return null;
  const found = known.find((one) => typeof one === 'string' && one.toLowerCase() === value.trim().toLowerCase());
  return found === undefined || found === value ? null : { value: found, words: `was read as "${String(found)}"` };
}

/** The same text in the spelling that is wanted. */
function respell(text: string, pattern: string | undefined): { value: unknown; words: string } | null {
  const source = /^\/(.*)\/([a-z]*)$/s.exec(pattern ?? '');
  if (!source) return null;
  const wanted = new RegExp(source[1] as string, source[2]);
  const spellings = [text.trim(), text.trim().toLowerCase(), text.trim().toUpperCase(), text.replace(/\p{C}+/gu, ' ').trim()];
  const value = spellings.find((one) => one !== text && wanted.test(one));
  return value === undefined ? null : { value, words: 'was spelt otherwise' };
}
