import { listRevisions } from '@rough-ember/store/apps';
import type { Database } from '@rough-ember/store/database';
import type { Logger } from 'pino';

const lookMs = 300;

interface Listener {
  readonly appId: number;
  /** The revision it was told of last. */
  sent: number;
  tell(revision: number): void;
}

/** Sees the changes that any process makes to an app: one look at the database serves all listeners of this one. */
export class RevisionWatcher {
  private readonly listeners = new Set<Listener>();
  private timer: ReturnType<typeof setTimeout> | null = null;
  private stopped = false;

  constructor(
    private readonly database: Database,
    private readonly log: Logger,
  ) {}

  /**
   * Calls back with each revision of the app that comes after this call was made; gives the function that ends it.
   * Once this has resolved no change is missed: whoever looked before it must look once more.
   */
  async listen(appId: number, tell: (revision: number) => void): Promise<() => void> {
    const listener: Listener = { appId, sent: (await listRevisions(this.database)).get(appId) ?? 0, tell };
    this.listeners.add(listener);
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
      return;
    }
    try {
      const revisions = await listRevisions(this.database);
      for (const listener of this.listeners) {
        const revision = revisions.get(listener.appId) ?? 0;
        if (revision === listener.sent) continue;
        listener.sent = revision;
        listener.tell(revision);
      }
    } catch (error) {
      if (!this.stopped) this.log.warn({ err: error }, 'changes could not be looked for');
    }
    this.lookLater();
  }
}
