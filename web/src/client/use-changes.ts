import { useEffect, useRef } from 'react';
import { addressOf } from './api';

/**
 * One stream of changes for a page, however many parts of it listen, and only while the page can be seen: a browser
 * holds few connections to one server, and a hidden tab looks once when it comes back.
 */
class ChangeStream {
  private readonly listeners = new Set<() => void>();
  private events: EventSource | null = null;

  constructor(private readonly path: string) {
    document.addEventListener('visibilitychange', () => this.follow());
  }

  listen(listener: () => void): () => void {
    this.listeners.add(listener);
    this.follow();
    return () => {
      this.listeners.delete(listener);
      this.follow();
    };
  }

  private follow(): void {
    const wanted = this.listeners.size > 0 && document.visibilityState === 'visible';
    if (wanted && !this.events) {
      this.events = new EventSource(this.path);
      const tell = () => {
        for (const listener of this.listeners) listener();
      };
      // What happened before the stream was open, at first or again, is not told, so everyone looks by themselves.
      this.events.addEventListener('open', tell);
      this.events.addEventListener('changed', tell);
    } else if (!wanted && this.events) {
      this.events.close();
      this.events = null;
    }
  }
}

const streams = new Map<string, ChangeStream>();

/** Calls back when anything that screens of the app show has changed, on whichever server it happened. */
export function useChanges(appSlug: string, onChange: () => void): void {
  const latest = useRef(onChange);
  useEffect(() => {
    latest.current = onChange;
  });
  useEffect(() => {
    const stream = streams.get(appSlug) ?? new ChangeStream(addressOf('GET /apps/{app}/changes', { app: appSlug }));
    streams.set(appSlug, stream);
    return stream.listen(() => latest.current());
  }, [appSlug]);
}
