import type { CollectorOptions } from './options.ts';
import { pathTemplate, type Trail } from './trail.ts';

type Undo = () => void;

const clipped = (value: unknown): string => {
  try {
    return (
      (typeof value === 'string' ? value : value instanceof Error ? `${value.name}: ${value.message}` : JSON.stringify(value)) ??
      String(value)
    );
  } catch {
    return String(value);
  }
};

/** Notes what happens in the app by itself. Everything watched is left as it was, but for a note; gives what undoes it. */
export function watch(trail: Trail, { trail: wanted = {}, server }: CollectorOptions): Undo {
  const undo: Undo[] = [];
  const on = (target: EventTarget | undefined, event: string, listener: (event: Event) => void) => {
    if (!target?.addEventListener) return;
    target.addEventListener(event, listener, { capture: true, passive: true });
    undo.push(() => target.removeEventListener(event, listener, { capture: true }));
  };
  const { document, history, location } = globalThis as { document?: Document; history?: History; location?: Location };
  if (wanted.console !== false) undo.push(watchConsole(trail));
  if (wanted.requests !== false) undo.push(watchFetch(trail, server), watchXhr(trail, server));
  if (wanted.navigation !== false && history && location) {
    const screen = () => trail.note({ kind: 'screen', name: pathTemplate(location.pathname) });
    screen();
    on(globalThis as unknown as EventTarget, 'popstate', screen);
    for (const method of ['pushState', 'replaceState'] as const) {
      const original = history[method];
      history[method] = function (this: History, ...all: Parameters<History['pushState']>) {
        original.apply(this, all);
        screen();
      };
      undo.push(() => {
        history[method] = original;
      });
    }
  }
  if (wanted.taps !== false)
    on(document, 'click', ({ target }) => {
      const element = target as Element | null;
      if (!element?.tagName) return;
      const tag = element.tagName.toLowerCase();
      const text = wanted.interfaceText === true ? (element.textContent ?? '').trim().slice(0, 100) : '';
      trail.note({ kind: 'tap', target: element.id ? `${tag}#${element.id}` : tag, ...(text === '' ? {} : { text }) });
    });
  if (wanted.lifecycle !== false)
    on(document, 'visibilitychange', () =>
      trail.note({ kind: 'lifecycle', state: document?.visibilityState === 'hidden' ? 'background' : 'foreground' }),
    );
  return () => {
    for (const one of undo) one();
  };
}

function watchConsole(trail: Trail): Undo {
  const levels = { log: 'info', info: 'info', warn: 'warn', error: 'error' } as const;
  const originals = Object.keys(levels).map((name) => {
    const method = name as keyof typeof levels;
    const original = console[method];
    console[method] = (...all: unknown[]) => {
      trail.note({ kind: 'log', level: levels[method], message: all.map(clipped).join(' ').slice(0, 500) });
      original.apply(console, all);
    };
    return () => {
      console[method] = original;
    };
  });
  return () => {
    for (const restore of originals) restore();
  };
}

/** Host and path of a request, or null for our own. */
function placeOf(address: string, server: string): { host: string; path: string } | null {
  if (address.startsWith(server)) return null;
  try {
    const { host, pathname } = new URL(address, (globalThis as { location?: Location }).location?.href);
    return { host, path: pathTemplate(pathname) };
  } catch {
    return null;
  }
}

function watchFetch(trail: Trail, server: string): Undo {
  const original = globalThis.fetch;
  if (typeof original !== 'function') return () => {};
  const watched: typeof fetch = async (input, init) => {
    const place = placeOf(input instanceof Request ? input.url : String(input), server);
    const method = (init?.method ?? (input instanceof Request ? input.method : 'GET')).toUpperCase();
    const began = Date.now();
    const note = (status: number | null) =>
      place && trail.note({ kind: 'request', method, ...place, status, durationMs: Date.now() - began });
    try {
      const answer = await original(input, init);
      note(answer.status);
      return answer;
    } catch (error) {
      note(null);
      throw error;
    }
  };
  globalThis.fetch = watched;
  return () => {
    if (globalThis.fetch === watched) globalThis.fetch = original;
  };
}

function watchXhr(trail: Trail, server: string): Undo {
  const { XMLHttpRequest: Xhr } = globalThis as { XMLHttpRequest?: typeof XMLHttpRequest };
  if (!Xhr) return () => {};
  const { open } = Xhr.prototype;
  Xhr.prototype.open = function (this: XMLHttpRequest, ...all: unknown[]) {
    const place = placeOf(String(all[1]), server);
    let began = Date.now();
    this.addEventListener('loadstart', () => {
      began = Date.now();
    });
    this.addEventListener('loadend', () => {
      if (place)
        trail.note({
          kind: 'request',
          method: String(all[0]).toUpperCase(),
          ...place,
          status: this.status || null,
          durationMs: Date.now() - began,
        });
    });
    (open as (...rest: unknown[]) => void).apply(this, all);
  } as typeof open;
  return () => {
    Xhr.prototype.open = open;
  };
}
