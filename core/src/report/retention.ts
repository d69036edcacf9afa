import { z } from 'zod';

/** What an app keeps for a while. */
export const keptThings = ['reports', 'attachments', 'intakeLog'] as const;
export type KeptThing = (typeof keptThings)[number];

const wholeFrom1 = (most: number) =>
  z
    .int()
    .min(1, { error: 'must be 1 or more' })
    .max(most, { error: `must be ${most} or less` });

const limitSchema = z.strictObject({
  days: wholeFrom1(3_650).nullable().default(null).describe('Counted from the arrival; null: however old.'),
  megabytes: wholeFrom1(10_000_000).nullable().default(null).describe('Of 1,000,000 bytes; the oldest goes first; null: however much.'),
});
export type RetentionLimit = z.infer<typeof limitSchema>;

/** Requests of intake are of little use after a while, so they go unless an app says otherwise. */
const logDays = 14;

/** How long an app keeps what it was sent, and how much of it. */
export const retentionSchema = z.strictObject({
  reports: limitSchema.prefault({}).describe('What reports hold: stacks, messages, trails, ids of people. Their counts stay.'),
  attachments: limitSchema.prefault({}).describe('Files that came with reports.'),
  intakeLog: limitSchema.prefault({ days: logDays }).describe('The log of requests.'),
});
export type Retention = z.infer<typeof retentionSchema>;
export const defaultRetention: Retention = retentionSchema.parse({});
