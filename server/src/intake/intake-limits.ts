/**
 * What one request of intake may be, and how many are in hand at once: together they bound the memory of the process, whatever
 * is sent. docs/reliability.md tells them to people; the largest body is a setting, and what a report may hold is
 * `reportLimits` of the core.
 */
export const intakeLimits = {
  /** Reports, sessions and attachments; records of OTLP. */
  items: 5_000,
  /** Of a batch, empty ones too. */
  lines: 50_000,
  /** Values of a JSON body: each takes far more memory than the byte or two that it is written with. */
  jsonValues: 2_000_000,
  /** Bodies up to here are read and worked on at once, in the thread that serves: scrubbing the worst text of this length takes 30 ms. */
  smallBytes: 16 * 1024,
  /** Larger ones that are in memory at once; the others wait for a place, unread. */
  largeAtOnce: 6,
  largeWaiting: 200,
  largeWaitMs: 30_000,
  /** Within this a large body must have come, for it keeps others waiting. */
  largeBodyMs: 120_000,
} as const;
