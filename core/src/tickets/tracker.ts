import { z } from 'zod';
import { casePlaceholders } from '../cases/case-values.ts';
import { templateSchema } from '../templates/template.ts';

/** What the templates of a tracker may ask for: the case, and once there is one the number of its ticket. */
export const ticketPlaceholders = [...casePlaceholders, 'number', 'id', 'secret'] as const;
export type TicketValues = Readonly<Record<(typeof ticketPlaceholders)[number], string>>;

const template = templateSchema(ticketPlaceholders);

/** An address of the web; its host is written out, so that nothing that an app sent decides where it leads. */
const address = template
  .max(2_000)
  .refine((text) => /^https?:\/\/[^/{}?#\s]+([/?#]|$)/.test(text), { error: 'must be an http or https address whose host is written out' })
  .refine((text) => !/\{\{\s*(secret|markdown)\s*\}\}/.test(text), { error: 'holds no {{secret}} and no {{markdown}}' });

const numbered = address.refine((text) => /\{\{\s*number\s*\}\}/.test(text), { error: 'must hold {{number}}' });

/** A place in JSON (RFC 6901). */
const pointer = z
  .string()
  .max(200)
  .regex(/^(\/([^~/]|~[01])*)*$/, { error: 'must be a JSON Pointer such as /data/number' });

const change = z.strictObject({ method: z.enum(['POST', 'PUT', 'PATCH']).default('POST'), address: numbered, body: template.default('') });

/** How an app reaches its ticket tracker. Whatever is left out is not done; a form alone needs no secret. */
export const trackerSchema = z.strictObject({
  /** The tracker's own form, filled in by its address. */
  form: address.nullable().default(null),
  /** The page of a ticket. */
  page: numbered.nullable().default(null),
  headers: z
    .record(z.string().regex(/^[A-Za-z0-9-]{1,100}$/, { error: 'is no name of a header' }), template)
    .refine((headers) => Object.keys(headers).length <= 20, { error: 'are too many' })
    .default({ authorization: 'Bearer {{secret}}' }),
  /** Makes a ticket; `number` says where its number is in the answer. */
  make: z
    .strictObject({ address, body: template.default('{"title": "{{title}}", "body": "{{markdown}}"}'), number: pointer.default('/number') })
    .nullable()
    .default(null),
  /** Asks what became of a ticket. */
  ask: z
    .strictObject({ address: numbered, state: pointer.default('/state') })
    .nullable()
    .default(null),
  /** Closes a ticket, and opens it again. */
  close: change.nullable().default(null),
  open: change.nullable().default(null),
  /** States of a ticket that mean that it is done. */
  doneStates: z.array(z.string().trim().min(1).max(100)).min(1).max(20).default(['closed', 'done', 'resolved']),
  /** Where the number and the state are in what the tracker tells by itself. */
  told: z.strictObject({ number: pointer.default('/data/number'), state: pointer.default('/data/state') }).prefault({}),
  /** Closing a case closes its ticket, and opening it again opens that. */
  ticketFollowsCase: z.boolean().default(false),
  /** A ticket that is done closes its case, as cured in the next version. */
  caseFollowsTicket: z.boolean().default(false),
});
export type Tracker = z.infer<typeof trackerSchema>;

/** The value at a place of JSON, as text (RFC 6901, section 4); null where there is none that is a text, a number or a truth value. */
export function readPointer(value: unknown, pointer: string): string | null {
  let at: unknown = value;
  for (const part of pointer.split('/').slice(1)) {
    const key = part.replaceAll('~1', '/').replaceAll('~0', '~');
    if (typeof at !== 'object' || at === null || !Object.hasOwn(at, key)) return null;
    if (Array.isArray(at) && !/^(0|[1-9]\d*)$/.test(key)) return null;
    at = (at as Record<string, unknown>)[key];
  }
  return typeof at === 'string' || typeof at === 'number' || typeof at === 'boolean' ? String(at) : null;
}

/** Whether a ticket in this state is done. */
export const isDone = ({ doneStates }: Pick<Tracker, 'doneStates'>, state: string): boolean =>
  doneStates.some((one) => one.toLowerCase() === state.trim().toLowerCase());
