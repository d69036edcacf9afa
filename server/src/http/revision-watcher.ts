import { listRevisions } from '@rough-ember/store/apps';
import type { Database } from '@rough-ember/store/database';
import type { Logger } from 'pino';

const lookMs = 300;

/** Sees the changes that any process makes to an app: one look at the database serves all listeners of this one. */
export class RevisionWatcher {
  private readonly listeners = new Map<(revision: number) => void, number>();
  private seen = new Map<number, number>();
  private timer: ReturnType<typeof setTimeout> | null = null;
  private stopped = false;

  constructor(
    private readonly database: Database,
    private readonly log: Logger,
  ) {}

  /** Calls back with each new revision of the app; gives the function that ends it. */
  listen(appId: number, listener: (revision: number) => void): () => void {
    this.listeners.set(listener, appId);
    if (!this.timer) this.lookLater();
    return () => this.listeners.delete(listener);
  }

  stop(): void {
    this.stopped = true;
    if (this.timer) clearTimeout(this.timer);
  }

  private lookLater(): void {
    if (!this.stopped) this.timer = setTimeout(() => this.look(), lookMs);
  }

  private async look(): Promise<void> {
    if (this.listeners.size === 0) {
      this.timer = null;
      this.seen = new Map();
      return;
    }
    try {
      const revisions = await listRevisions(this.database);
      for (const [listener, appId] of this.listeners) {
        const revision = revisions.get(appId);
        if (revision !== undefined && this.seen.has(appId) && this.seen.get(appId) !== revision) listener(revision);
      }
      this.seen = revisions;
    } catch (error) {
      if (!this.stopped) this.log.warn({ err: error }, 'changes could not be looked for');
    }
    this.lookLater();
  }
}
