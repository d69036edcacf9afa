import { listRevisions } from '@rough-ember/store/apps';
import type { Services } from '../services.ts';

const lookMs = 300;
const signOfLifeMs = 15_000;

/** One look at the database serves all listeners of this process; other processes' changes are seen alike. */
class RevisionWatcher {
  private readonly listeners = new Map<(revision: number) => void, number>();
  private seen = new Map<number, number>();
  private timer: ReturnType<typeof setTimeout> | null = null;

  constructor(private readonly services: Services) {}

  listen(appId: number, listener: (revision: number) => void): () => void {
    this.listeners.set(listener, appId);
    if (!this.timer) this.look();
    return () => this.listeners.delete(listener);
  }

  private look(): void {
    this.timer = setTimeout(async () => {
      if (this.listeners.size === 0) {
        this.timer = null;
        this.seen = new Map();
        return;
      }
      try {
        const revisions = await listRevisions(this.services.database);
        for (const [listener, appId] of this.listeners) {
          const revision = revisions.get(appId);
          if (revision !== undefined && this.seen.has(appId) && this.seen.get(appId) !== revision) listener(revision);
        }
        this.seen = revisions;
      } catch (error) {
        this.services.log.warn({ err: error }, 'changes could not be looked for');
      }
      this.look();
    }, lookMs);
  }
}

const watchers = new WeakMap<Services, RevisionWatcher>();

/** A server-sent event stream (WHATWG HTML, "Server-sent events") with one `changed` event for each change of an app. */
export function changeStream(services: Services, appId: number): Response {
  const watcher = watchers.get(services) ?? new RevisionWatcher(services);
  watchers.set(services, watcher);
  let stop = () => {};
  const body = new ReadableStream<Uint8Array>({
    start(controller) {
      const encoder = new TextEncoder();
      const send = (text: string) => {
        try {
          controller.enqueue(encoder.encode(text));
        } catch {
          stop();
        }
      };
      const stopListening = watcher.listen(appId, (revision) => send(`event: changed\ndata: ${revision}\n\n`));
      const signs = setInterval(() => send(': here\n\n'), signOfLifeMs);
      stop = () => {
        stopListening();
        clearInterval(signs);
      };
      send('retry: 1000\n\n: here\n\n');
    },
    cancel: () => stop(),
  });
  return new Response(body, { headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store' } });
}
