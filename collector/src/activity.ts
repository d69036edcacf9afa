import type { TrailEvent } from './item.ts';

/** More different screens and requests than these a session does not tell; the server would refuse them. */
const mostScreens = 200;
const mostRequests = 100;
const lastBucket = 239;

type Request = Extract<TrailEvent, { readonly kind: 'request' }>;

interface RequestCounts {
  readonly method: string;
  readonly host: string;
  readonly path: string;
  count: number;
  failed: number;
  readonly durations: Map<number, number>;
}

/** The bucket of a duration: from 2^(bucket/8) up to 2^((bucket+1)/8) milliseconds. */
export const durationBucket = (durationMs: number): number =>
  Math.min(lastBucket, Math.max(0, Math.ceil(8 * Math.log2(Math.max(1, durationMs))) - 1));

/** What a session did so far in numbers: its screens, and how its requests went. */
export class Activity {
  private readonly screens = new Map<string, number>();
  private readonly requests = new Map<string, RequestCounts>();

  note(event: TrailEvent): void {
    if (event.kind === 'screen') this.screen(event.name);
    if (event.kind === 'request') this.request(event);
  }

  /** As a session item tells it. */
  get counts(): object {
    return {
      screens: [...this.screens].map(([name, visits]) => ({ name, visits })),
      requests: [...this.requests.values()].map(({ durations, ...rest }) => ({
        ...rest,
        durations: [...durations].map(([bucket, count]) => ({ bucket, count })),
      })),
    };
  }

  private screen(name: string): void {
    if (this.screens.has(name) || this.screens.size < mostScreens) this.screens.set(name, (this.screens.get(name) ?? 0) + 1);
  }

  private request({ method, host, path, status, durationMs }: Request): void {
    const name = `${method} ${host}${path}`;
    const known = this.requests.get(name);
    if (!known && this.requests.size >= mostRequests) return;
    const counts = known ?? { method, host, path, count: 0, failed: 0, durations: new Map() };
    this.requests.set(name, counts);
    counts.count++;
    if (status === null || status >= 400) counts.failed++;
    const bucket = durationBucket(durationMs);
    counts.durations.set(bucket, (counts.durations.get(bucket) ?? 0) + 1);
  }
}
