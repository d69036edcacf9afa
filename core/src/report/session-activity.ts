import { z } from 'zod';
import { text } from './limits.ts';
import { pathTemplate } from './path-template.ts';

/** Ceilings of what one session may tell of its screens and requests. */
export const activityLimits = { screens: 200, requests: 100 } as const;

const count = z.int().min(1).max(1_000_000);

/** The last bucket of durations: what takes longer is counted in it. */
export const lastDurationBucket = 239;

/** How often a session showed a screen. */
export const screenVisitsSchema = z.strictObject({ name: text(300).min(1), visits: count.default(1) });
export type ScreenVisits = z.infer<typeof screenVisitsSchema>;

/** How a session's requests of one kind went. */
export const requestCountsSchema = z
  .strictObject({
    method: text(20),
    host: text(300),
    path: text(1_000).describe('A template such as "/tiles/{zoom}/{x}", never with a query.'),
    count: count.default(1),
    failed: z.int().min(0).max(1_000_000).default(0).describe('Of these, without an answer or with a status of 400 and higher.'),
    durations: z
      .array(z.strictObject({ bucket: z.int().min(0).max(lastDurationBucket), count }))
      .max(lastDurationBucket + 1)
      .default([])
      .describe('Of those whose duration is known, how many took from 2^(bucket/8) up to 2^((bucket+1)/8) milliseconds.'),
  })
  .refine(({ count, failed, durations }) => failed <= count && durations.reduce((sum, one) => sum + one.count, 0) <= count, {
    error: 'more requests failed, or have a duration, than there were',
  });
export type RequestCounts = z.infer<typeof requestCountsSchema>;

/** Buckets a doubling of the duration: with eight, a duration that is read back is off by at most 4.5 %. */
const bucketsInDoubling = 8;

/**
 * The bucket of a duration in milliseconds: buckets of an exponential histogram of scale 3 from 1 ms on (OpenTelemetry metrics
 * data model, ExponentialHistogram), closed at their upper end.
 */
export const durationBucket = (durationMs: number): number =>
  Math.min(lastDurationBucket, Math.max(0, Math.ceil(Math.log2(Math.max(1, durationMs)) * bucketsInDoubling) - 1));

/** The duration in milliseconds that stands for a bucket: the middle of its ends, by their ratio. */
export const durationOfBucket = (bucket: number): number => 2 ** ((bucket + 0.5) / bucketsInDoubling);

/** Whether a request failed: it had no answer, or a status by which HTTP says so (RFC 9110, sections 15.5 and 15.6). */
export const hasFailed = (status: number | null): boolean => status === null || status >= 400;

const longestName = 400;

/** What requests are counted by: `GET tiles.larkfield.example/tiles/{number}`. */
export const requestName = ({ method, host, path }: Pick<RequestCounts, 'method' | 'host' | 'path'>): string =>
  `${method.toUpperCase()} ${host.toLowerCase()}${pathTemplate(path)}`.slice(0, longestName);
