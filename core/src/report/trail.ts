import { z } from 'zod';
import { attributesSchema, deviceTime, optional, text } from './limits.ts';

const at = deviceTime;
const label = text(300).min(1);

/** What happened before a report, or during a session: one time-stamped event. */
export const trailEventSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('screen'), at, name: label }),
  z.strictObject({
    kind: z.literal('tap'),
    at,
    target: label.describe('Which control: its id or type.'),
    text: optional(text(300)).describe('Text of the interface; clients leave it out unless they were told to send it.'),
  }),
  z.strictObject({
    kind: z.literal('request'),
    at,
    method: text(20),
    host: text(300),
    path: text(1_000).describe('A template such as "/tiles/{zoom}/{x}", never with a query.'),
    status: optional(z.int().min(0).max(999)).describe('HTTP status; null when no answer came.'),
    durationMs: optional(z.number().min(0)),
  }),
  z.strictObject({
    kind: z.literal('log'),
    at,
    level: z.enum(['debug', 'info', 'warn', 'error']).default('info'),
    message: text(2_000),
  }),
  z.strictObject({ kind: z.literal('lifecycle'), at, state: label.describe('Such as "foreground", "background", "low-memory".') }),
  z.strictObject({ kind: z.literal('flag'), at, name: label, variant: text(200) }),
  z.strictObject({ kind: z.literal('custom'), at, name: label, attributes: attributesSchema.default({}) }),
]);
export type TrailEvent = z.infer<typeof trailEventSchema>;
export type TrailEventKind = TrailEvent['kind'];

/** The screen that was shown last; null when the trail tells none. */
export const lastScreen = (trail: readonly TrailEvent[]): string | null => trail.findLast((event) => event.kind === 'screen')?.name ?? null;
