import { afterEach, beforeEach, vi } from 'vitest';

interface Asked {
  readonly method: string;
  readonly path: string;
  readonly body: unknown;
  /** Answers it. */
  answer(body: unknown, status?: number): void;
}

export interface FakeServer {
  /** What was asked and has no answer yet, the oldest first. */
  readonly waiting: Asked[];
  /** Tells every open stream of changes that something has changed. */
  change(): void;
}

/** In place of the server, for parts of screens that ask it: a test sees what they ask, and answers when and in the order it wants. */
export function fakeServer(): FakeServer {
  const waiting: Asked[] = [];
  const streams = new Set<EventTarget>();
  beforeEach(() => {
    waiting.length = 0;
    vi.stubGlobal('fetch', (path: string, { method = 'GET', body, signal }: RequestInit = {}) => {
      return new Promise<Response>((resolve, reject) => {
        signal?.addEventListener('abort', () => reject(new DOMException('left', 'AbortError')));
        waiting.push({
          method,
          path,
          body: body === undefined ? undefined : JSON.parse(String(body)),
          answer: (answer, status = 200) => resolve(Response.json(answer, { status })),
        });
      });
    });
    vi.stubGlobal(
      'EventSource',
      class extends EventTarget {
        constructor() {
          super();
          streams.add(this);
        }
        close() {
          streams.delete(this);
        }
      },
    );
  });
  afterEach(() => vi.unstubAllGlobals());
  return {
    waiting,
    change: () => {
      for (const stream of streams) stream.dispatchEvent(new Event('changed'));
    },
  };
}
