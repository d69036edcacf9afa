import { Activity } from './activity.ts';
import { elapsedMs } from './elapsed.ts';
import type { Item, TrailEvent } from './item.ts';
import type { Storage } from './storage.ts';
import type { Trail } from './trail.ts';
import { uuid } from './uuid.ts';

const name = 'ember.session';
/** Storage takes its time, and screens may come by the dozen. */
const betweenWritesMs = 250;

/** One foreground stretch of the app, as items that each say all that is known so far. */
export class Session {
  readonly id = uuid();
  private readonly startedAt = new Date().toISOString();
  private readonly began = elapsedMs();
  private sequence = 0;
  private errors = 0;
  private state: 'open' | 'ended' | 'crashed' = 'open';
  private readonly activity = new Activity();
  private notedAt = Number.NEGATIVE_INFINITY;
  private waiting: ReturnType<typeof setTimeout> | null = null;

  constructor(
    private readonly storage: Storage,
    private readonly context: () => object,
    private readonly told: { readonly trail: Trail; readonly share: number },
  ) {}

  /** Whether this session is one of those that tell their trail: by its id, so that all of its items agree. */
  private get tellsTrail(): boolean {
    return Number.parseInt(this.id.slice(0, 4), 16) < this.told.share * 0x10000;
  }

  /**
   * The end of the session before this one, when the app ended without telling: nothing is known but that it is over. One
   * that crashed has told so already.
   */
  static leftOver(storage: Storage): Item | null {
    try {
      const left = JSON.parse(storage.get(name) ?? 'null') as Item | null;
      storage.set(name, 'null');
      return left === null || left.state === 'crashed' ? null : { ...left, sequence: Number(left.sequence) + 1, state: 'ended' };
    } catch {
      return null;
    }
  }

  countError(): void {
    this.errors++;
  }

  /** Counts what happens; screens are written down as they come, for an app that is ended without telling. */
  note(event: TrailEvent): void {
    this.activity.note(event);
    if (event.kind !== 'screen' || this.state !== 'open' || this.waiting !== null) return;
    const waitMs = this.notedAt + betweenWritesMs - elapsedMs();
    if (waitMs <= 0) {
      this.writeNow();
      return;
    }
    this.waiting = setTimeout(() => this.writeNow(), waitMs);
    (this.waiting as { unref?: () => void }).unref?.();
  }

  private writeNow(): void {
    this.forgetWaiting();
    this.notedAt = elapsedMs();
    this.writeDown(this.now());
  }

  private forgetWaiting(): void {
    if (this.waiting !== null) clearTimeout(this.waiting);
    this.waiting = null;
  }

  /** What is to be said of the session now. */
  item(state: 'open' | 'ended' | 'crashed' = 'open'): Item {
    if (state !== 'open') this.state = this.state === 'crashed' ? 'crashed' : state;
    const item = this.now();
    this.sequence++;
    this.forgetWaiting();
    this.writeDown(state === 'ended' ? null : item);
    return item;
  }

  private now(): Item {
    return {
      type: 'session',
      id: this.id,
      sequence: this.sequence,
      at: new Date().toISOString(),
      startedAt: this.startedAt,
      state: this.state,
      durationMs: Math.round(elapsedMs() - this.began),
      errors: this.errors,
      ...this.context(),
      ...this.activity.counts,
      ...(this.tellsTrail && { trail: this.told.trail.list }),
    };
  }

  private writeDown(item: Item | null): void {
    try {
      this.storage.set(name, JSON.stringify(item));
    } catch {
      // Without room the next launch knows nothing of this session's end; the server has its start.
    }
  }
}
