import { z } from 'zod';
import { dayMs } from '../durations.ts';
import { contextSchema } from './context.ts';
import { attributesSchema, deviceTime, flagsSchema, reportLimits } from './limits.ts';
import { activityLimits, requestCountsSchema, screenVisitsSchema } from './session-activity.ts';
import { trailEventSchema } from './trail.ts';

/** How a session stands, the worst last: whatever order its items come in, the worst that was told is its end. */
export const sessionStates = ['open', 'ended', 'killed', 'hung', 'crashed'] as const;
export type SessionState = (typeof sessionStates)[number];

/**
 * What a client tells of a session: at its start, whenever something changed, and at its end. Every item holds all that was
 * known then, so that items may be lost, repeated, or come in any order.
 */
export const sessionItemSchema = contextSchema.extend({
  id: z.uuid().describe('The session; the same in all of its items.'),
  sequence: z.int().min(0).max(1_000_000_000).describe('0 for the start, higher for each later item of the session.'),
  at: deviceTime.describe('When this item was made.'),
  startedAt: deviceTime,
  state: z.enum(sessionStates).default('open'),
  durationMs: z.int().min(0).max(dayMs).default(0).describe('Time in the foreground so far.'),
  errors: z.int().min(0).max(1_000_000).default(0).describe('Handled errors so far.'),
  flags: flagsSchema.default({}),
  attributes: attributesSchema.default({}),
  screens: z.array(screenVisitsSchema).max(activityLimits.screens).default([]).describe('Screens of the app that were shown so far.'),
  requests: z.array(requestCountsSchema).max(activityLimits.requests).default([]).describe('Requests so far, by what they asked for.'),
  trail: z
    .array(trailEventSchema)
    .max(reportLimits.trailEvents)
    .default([])
    .describe('What happened so far, oldest first; told by a share of the sessions, drawn by chance, when they end.'),
});
export type SessionItem = z.infer<typeof sessionItemSchema>;
export type SessionItemInput = z.input<typeof sessionItemSchema>;

/** The state a session is in after a report of this kind; handled errors leave it as it is. */
export const stateAfter = { crash: 'crashed', hang: 'hung', kill: 'killed', error: 'open' } as const satisfies Record<string, SessionState>;

/** The worse of two states. */
export const worseState = (one: SessionState, other: SessionState): SessionState =>
  sessionStates[Math.max(sessionStates.indexOf(one), sessionStates.indexOf(other))] as SessionState;

/** What is known of a session after some of its items. */
export interface KnownSession {
  /** The earliest item: version, system and device count as they were then. */
  readonly first: SessionItem;
  /** The latest item: flags, attributes, screens and requests count as they are now. */
  readonly latest: SessionItem;
  readonly startedAt: string;
  readonly lastAt: string;
  readonly state: SessionState;
  readonly durationMs: number;
  readonly errors: number;
  /** The earliest item that told of a crash; null when none did. */
  readonly crashedAt: string | null;
}

export const knownSession = (item: SessionItem): KnownSession => ({
  first: item,
  latest: item,
  startedAt: item.startedAt,
  lastAt: item.at,
  state: item.state,
  durationMs: item.durationMs,
  errors: item.errors,
  crashedAt: item.state === 'crashed' ? item.at : null,
});

const earlier = (one: string, other: string): string => (Date.parse(other) < Date.parse(one) ? other : one);
const later = (one: string, other: string): string => (Date.parse(other) > Date.parse(one) ? other : one);

/** Joins what two sets of items tell of one session: in any order, and however often an item is in both. */
export const joinSessions = (one: KnownSession, other: KnownSession): KnownSession => ({
  first: other.first.sequence < one.first.sequence ? other.first : one.first,
  latest: other.latest.sequence > one.latest.sequence ? other.latest : one.latest,
  startedAt: earlier(one.startedAt, other.startedAt),
  lastAt: later(one.lastAt, other.lastAt),
  state: worseState(one.state, other.state),
  durationMs: Math.max(one.durationMs, other.durationMs),
  errors: Math.max(one.errors, other.errors),
  crashedAt:
    one.crashedAt === null || other.crashedAt === null ? (one.crashedAt ?? other.crashedAt) : earlier(one.crashedAt, other.crashedAt),
});
