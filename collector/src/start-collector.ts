import { Circumstances } from './circumstances.ts';
import { ErrorReports } from './error-reports.ts';
import { watchHangs } from './hangs.ts';
import { installationOf } from './installation.ts';
import type { Attributes, AttributeValue, Item, Kind } from './item.ts';
import type { CollectorOptions } from './options.ts';
import { Outbox } from './outbox.ts';
import { plain } from './plain.ts';
import { quietly } from './quietly.ts';
import { Sender } from './sender.ts';
import { Session } from './session.ts';
import { defaultStorage, type Storage } from './storage.ts';
import { Trail } from './trail.ts';
import { hearUncaught } from './uncaught.ts';
import { watch } from './watch.ts';

const usualHangMs = 5_000;
/** Of sessions in which nothing went wrong, so many tell what happened in them. */
const usualTrailShare = 0.1;

/** What an app does with its collector. Nothing here throws, and nothing waits. */
export interface Collector {
  readonly installationId: string;
  /** For the native side of an app that has none of its own; null where no session is counted. */
  readonly sessionId: string | null;
  /** Reports an error the app handled; `componentStack` is what a boundary of a user interface is told of where it happened. */
  report(
    thrown: unknown,
    about?: { readonly kind?: Kind; readonly attributes?: Attributes; readonly componentStack?: string | undefined },
  ): void;
  /** Runs work and reports what it throws or rejects with, which goes on to the caller. */
  wrap<Arguments extends unknown[], Value>(work: (...all: Arguments) => Value): (...all: Arguments) => Value;
  /** Notes something on the trail. */
  note(name: string, attributes?: Attributes): void;
  screen(name: string): void;
  attribute(name: string, value: AttributeValue | null): void;
  flag(name: string, variant: string | null): void;
  person(id: string | null): void;
  /** How the person can be reached, if they left it. */
  contact(how: string | null): void;
  /** Something that happened to the app, where nothing here sees it: "foreground", "background", "low-memory". */
  lifecycle(state: string): void;
  /** Sends what waits; resolves when the server answered or cannot be reached. */
  flush(): Promise<void>;
  /** Says that the session is over and stops collecting; what the server does not take now waits for the next launch. */
  stop(): Promise<void>;
}

export function startCollector(options: CollectorOptions): Collector {
  const storage = options.storage ?? defaultStorage();
  const installationId = options.session?.installationId ?? installationOf(storage);
  if (options.buildType === 'debug' && options.inDebugBuilds !== true) {
    console.info('Rough Ember collects nothing from this debug build; set inDebugBuilds to change that.');
    return idle(installationId);
  }
  const { keep, sender } = openSending(options, storage);
  const circumstances = new Circumstances(options, installationId);
  const trail = new Trail((event) => session?.note(event));
  const trailShare = options.sample?.trail ?? usualTrailShare;
  const session =
    options.sessions === false || options.session ? null : new Session(storage, () => circumstances.now(), { trail, share: trailShare });
  const reports = new ErrorReports(options, { circumstances, session, trail, keep });
  const leftOver = Session.leftOver(storage);
  if (leftOver) keep(leftOver);
  if (session) keep(session.item());
  const end = () => {
    if (session) keep(session.item('ended'));
  };
  const stopListening = [
    watch(trail, options),
    options.uncaught === false ? () => {} : reportUncaught(reports),
    watchHangs(options.hangMs ?? usualHangMs, (exceptions) => quietly(() => reports.addExceptions('hang', () => exceptions))),
    onPageHide(() => {
      end();
      void sender.now();
    }),
  ];
  sender.soon();
  return {
    installationId,
    sessionId: session?.id ?? options.session?.id ?? null,
    report: (thrown, { kind = 'error', attributes: more = {}, componentStack } = {}) =>
      quietly(() => reports.add(thrown, kind, more, componentStack)),
    wrap: (work) => wrapped(work, reports),
    note: (name, more = {}) => quietly(() => trail.note({ kind: 'custom', name: String(name), attributes: plain(more) as Attributes })),
    screen: (name) => quietly(() => trail.note({ kind: 'screen', name: String(name) })),
    attribute: (name, value) => circumstances.setAttribute(name, value),
    flag: (name, variant) => {
      circumstances.setFlag(name, variant);
      quietly(() => trail.note({ kind: 'flag', name, variant: String(variant ?? 'none') }));
    },
    person: (id) => {
      circumstances.personId = id;
    },
    contact: (how) => {
      circumstances.contact = how;
    },
    lifecycle: (state) => quietly(() => trail.note({ kind: 'lifecycle', state: String(state) })),
    flush: () => sender.now(),
    stop: async () => {
      for (const stop of stopListening) stop();
      quietly(end);
      await sender.stop();
    },
  };
}

/** Where items go: through the app's own hook into the storage, and from there to the server. */
function openSending(options: CollectorOptions, storage: Storage): { keep: (item: Item) => void; sender: Sender } {
  const outbox = new Outbox(storage);
  // Taken before the console is watched for the trail.
  const say = console.info.bind(console);
  const sender = new Sender({
    outbox,
    server: options.server.replace(/\/+$/, ''),
    key: options.key,
    fetch: globalThis.fetch.bind(globalThis),
    tell: console.warn.bind(console),
  });
  const keep = (item: Item) => {
    let kept: Item | null = item;
    try {
      if (options.beforeSend) kept = options.beforeSend(item);
    } catch {
      // A hook that fails must not let through what it was meant to take out.
      kept = null;
    }
    if (!kept) return;
    if (options.dryRun === true) say(`Rough Ember would send: ${JSON.stringify(plain(kept))}`);
    else outbox.add(plain(kept) as Item);
    sender.soon();
  };
  return { keep, sender };
}

const reportUncaught = (reports: ErrorReports): (() => void) =>
  hearUncaught((thrown, kind, how) =>
    quietly(() => reports.add(thrown, kind, how === 'rejection' ? { 'javascript.unhandledRejection': true } : {})),
  );

/** Calls back when a page is left; gives the way to stop. Where there are no pages it does nothing. */
function onPageHide(listener: () => void): () => void {
  const page = globalThis as unknown as {
    addEventListener?: (event: string, listener: () => void) => void;
    removeEventListener?: (event: string, listener: () => void) => void;
  };
  page.addEventListener?.('pagehide', listener);
  return () => page.removeEventListener?.('pagehide', listener);
}

/** The same work, which reports what it throws or rejects with. */
function wrapped<Arguments extends unknown[], Value>(
  work: (...all: Arguments) => Value,
  reports: ErrorReports,
): (...all: Arguments) => Value {
  return (...all) => {
    const failed = (thrown: unknown): never => {
      quietly(() => reports.add(thrown, 'error', {}));
      throw thrown;
    };
    try {
      const value = work(...all);
      return value instanceof Promise ? (value.catch(failed) as typeof value) : value;
    } catch (thrown) {
      return failed(thrown);
    }
  };
}

/** What a debug build gets: every call is taken, and nothing is collected. */
const idle = (installationId: string): Collector => ({
  installationId,
  sessionId: null,
  report: () => {},
  wrap: (work) => work,
  note: () => {},
  screen: () => {},
  attribute: () => {},
  flag: () => {},
  person: () => {},
  contact: () => {},
  lifecycle: () => {},
  flush: async () => {},
  stop: async () => {},
});
