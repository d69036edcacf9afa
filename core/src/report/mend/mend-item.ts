import { z } from 'zod';
import { attachmentItemSchema } from '../attachment.ts';
import type { Item } from '../item.ts';
import { itemSchema } from '../item.ts';
import { reportLimits } from '../limits.ts';
import { reportSchema } from '../report.ts';
import { sessionItemSchema } from '../session.ts';
import { activityLimits } from '../session-activity.ts';
import { type TrailEvent, trailEventSchema } from '../trail.ts';
import { cutStacks } from './cut-stacks.ts';
import { withRemarks } from './fit-report.ts';
import { clipText, flattenAttributes, flattenFlags } from './flatten-values.ts';
import { pruneValues } from './prune-values.ts';
import { putRight, type StandIn } from './put-right.ts';
import { Remarks } from './remarks.ts';

/** What the platform and the request know, for values that an item lacks. */
export interface MendContext {
  /** ISO time. */
  readonly receivedAt: string;
  /** The item as it was sent: what it is known again by when it has no id. */
  readonly text: string;
  /** Makes a UUID that is always the same for one text, so that an item that is sent again is the same item. */
  makeId(text: string): string;
}

/** An item as it can be kept, with what was changed of it; or why nothing can be made of it. */
export type MendedItem =
  | { readonly ok: true; readonly item: Item; readonly remarks: readonly string[] }
  | { readonly ok: false; readonly error: z.ZodError };

type Given = Record<string, unknown>;

const schemas = {
  report: reportSchema.extend({ type: z.literal('report') }),
  session: sessionItemSchema.extend({ type: z.literal('session') }),
  attachment: attachmentItemSchema.safeExtend({ type: z.literal('attachment') }),
} as const;

/**
 * Reads an item that nobody checked. One that fits its schema is taken as it is; of any other as much is kept as can be, and
 * each change is told. What was given is changed in place.
 */
export function mendItem(given: unknown, context: MendContext): MendedItem {
  const remarks = new Remarks();
  // Stacks tell how deep they were, so they are cut before whatever else is too much.
  if (given !== null && typeof given === 'object') cutLists(given as Given, remarks);
  // Only a long text can hold more than can be looked at value by value.
  const pruned = context.text.length > longText ? pruneValues(given) : 0;
  if (pruned > 0) remarks.note([], `${pruned} values were left out, for they are more than an item may have or lie too deep`);
  const fits = itemSchema.safeParse(given);
  if (fits.success) return finished(fits.data, remarks);
  const type = typeOf(given);
  if (type === null) return { ok: false, error: fits.error };
  const item = given as Given;
  if (item.type !== type) {
    remarks.note(['type'], `was taken to be "${type}"`);
    item.type = type;
  }
  if (type !== 'attachment') preparedParts(item, remarks);
  const mended = putRight(schemas[type], item, { standIn: standInsOf(type, item, context), remarks });
  if (!mended.ok) return { ok: false, error: fits.error };
  return finished(mended.value, remarks);
}

function finished(item: Item, remarks: Remarks): MendedItem {
  const told = remarks.list();
  return { ok: true, item: item.type === 'report' ? withRemarks(item, told) : item, remarks: told };
}

const longText = 100_000;

/** Lists with more entries than are kept are cut before the entries are looked at. */
const listLimits: Readonly<Record<string, number>> = {
  exceptions: reportLimits.exceptions,
  threads: reportLimits.threads,
  images: reportLimits.images,
  sections: reportLimits.sections,
  trail: reportLimits.trailEvents,
  remarks: reportLimits.remarks,
  screens: activityLimits.screens,
  requests: activityLimits.requests,
};

function cutLists(item: Given, remarks: Remarks): void {
  for (const [name, limit] of Object.entries(listLimits)) {
    const list = item[name];
    if (!Array.isArray(list) || list.length <= limit) continue;
    remarks.note([name], `has ${list.length} entries; ${limit} were kept`);
    // Of what happened before, the end counts.
    item[name] = name === 'trail' ? list.slice(-limit) : list.slice(0, limit);
  }
  const cut = cutStacks(item);
  if (cut > 0) remarks.note([], `${cut} frames were cut out of the middle of stacks that are too long`);
}

/** An event of a trail as it can be kept; null when nothing can be made of it. */
export function mendTrailEvent(
  given: object,
  { receivedAt }: Pick<MendContext, 'receivedAt'>,
): { readonly event: TrailEvent; readonly remarks: readonly string[] } | null {
  const remarks = new Remarks();
  const event = given as Given;
  if ('attributes' in event) event.attributes = flattenAttributes(event.attributes, ['attributes'], remarks);
  const standIn: StandIn = ([name]) =>
    name === 'at' ? { value: receivedAt, words: 'tells no time that can be used; another stands for it' } : undefined;
  const mended = putRight(trailEventSchema, event, { standIn, remarks });
  return mended.ok ? { event: mended.value, remarks: remarks.list() } : null;
}

function typeOf(given: unknown): keyof typeof schemas | null {
  if (typeof given !== 'object' || given === null || Array.isArray(given)) return null;
  const { type, kind, exceptions, state, startedAt } = given as Given;
  const named = typeof type === 'string' ? type.trim().toLowerCase() : null;
  if (named !== null && Object.hasOwn(schemas, named)) return named as keyof typeof schemas;
  // Another type is another thing, perhaps one of a newer client; an item without any shows by its fields what it is.
  if (type !== undefined && type !== null) return null;
  if (Array.isArray(exceptions) || kind !== undefined) return 'report';
  return state !== undefined && startedAt !== undefined ? 'session' : null;
}

/** What a schema alone cannot put right: values within values, and exceptions of another form. */
function preparedParts(item: Given, remarks: Remarks): void {
  item.attributes = flattenAttributes(item.attributes, ['attributes'], remarks);
  item.flags = flattenFlags(item.flags, ['flags'], remarks);
  if (Array.isArray(item.trail))
    item.trail.forEach((event, at) => {
      if (typeof event === 'object' && event !== null && 'attributes' in event)
        event.attributes = flattenAttributes(event.attributes, ['trail', at, 'attributes'], remarks);
    });
  if (Array.isArray(item.exceptions)) item.exceptions = item.exceptions.map(exceptionOf);
}

/** An exception that came as the text of its stack is one all the same. */
const exceptionOf = (one: unknown): unknown => (typeof one === 'string' ? { type: 'unknown', stack: one } : one);

/** `exceptions.*.type` */
const placeOf = (path: readonly PropertyKey[]): string => path.map((part) => (typeof part === 'number' ? '*' : String(part))).join('.');

const uuidPlaces: ReadonlySet<string> = new Set(['id', 'reportId', 'sessionId', 'installationId']);

/** What is put where an item says nothing that can be used. Without an id, the same item is known again by what it says. */
function standInsOf(type: keyof typeof schemas, item: Given, { receivedAt, makeId, text }: MendContext): StandIn {
  return (path, given) => {
    const place = placeOf(path);
    if (uuidPlaces.has(place) && ((typeof given === 'string' && given !== '') || typeof given === 'number'))
      return { value: makeId(String(given)), words: 'is no UUID; one was made of it' };
    if (type === 'attachment') return undefined;
    if (place === 'id') return { value: makeId(text), words: 'is missing; one was made of what the item says' };
    if (timePlaces.has(place) || place === 'trail.*.at') {
      const read = readTime(given);
      if (read !== null) return { value: read, words: 'was read as a time' };
      const stand =
        place === 'trail.*.at'
          ? (readTime(item.occurredAt) ?? readTime(item.at) ?? receivedAt)
          : place === 'startedAt'
            ? (readTime(item.at) ?? receivedAt)
            : receivedAt;
      return { value: stand, words: 'tells no time that can be used; another stands for it' };
    }
    const fallback = fallbacks(item)[place];
    return fallback === undefined ? undefined : { value: fallback, words: `cannot be used and became ${JSON.stringify(fallback)}` };
  };
}

const timePlaces: ReadonlySet<string> = new Set(['occurredAt', 'at', 'startedAt']);

const fallbacks = (item: Given): Readonly<Record<string, unknown>> => ({
  // A handled error lowers no figure, so a kind that nobody knows does no harm as one.
  kind: 'error',
  state: 'open',
  sequence: 0,
  version: 'unknown',
  build: typeof item.version === 'string' && item.version.trim() !== '' ? clipText(item.version, 100) : 'unknown',
  buildType: 'release',
  'os.name': 'unknown',
  'os.version': '',
  'device.model': 'unknown',
  'exceptions.*.type': 'unknown',
  'exceptions.*.parent': null,
  'exceptions.*.relation': 'thrown',
  'exceptions.*.frames.*.class': '(unknown)',
  'exceptions.*.frames.*.method': '(unknown)',
  'threads.*.name': 'unnamed',
  'threads.*.frames.*.class': '(unknown)',
  'threads.*.frames.*.method': '(unknown)',
  'trail.*.name': 'unnamed',
  'trail.*.target': 'unnamed',
  'trail.*.state': 'unknown',
});

/** A time as other formats write it: milliseconds or seconds since 1970, or what can be read as a date. */
function readTime(given: unknown): string | null {
  const number = typeof given === 'string' && /^\d{9,16}$/.test(given) ? Number(given) : given;
  const at =
    typeof number === 'number'
      ? Math.abs(number) < 1e11
        ? number * 1000
        : number
      : typeof given === 'string'
        ? Date.parse(given)
        : Number.NaN;
  return at > 0 && at < Date.UTC(2200, 0, 1) ? new Date(at).toISOString() : null;
}
