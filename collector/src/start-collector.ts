import { describeError } from './describe-error.ts';
import type { Attributes, AttributeValue, Item, Kind } from './item.ts';
import type { CollectorOptions } from './options.ts';
import { Outbox } from './outbox.ts';
import { plain } from './plain.ts';
import { Sender } from './sender.ts';
import { Session } from './session.ts';
import { defaultStorage, type Storage } from './storage.ts';
import { Trail } from './trail.ts';
import { hearUncaught } from './uncaught.ts';
import { uuid } from './uuid.ts';
import { watch } from './watch.ts';

/** What an app does with its collector. Nothing here throws, and nothing waits. */
export interface Collector {
  readonly installationId: string;
  /** Reports an error the app handled. */
  report(thrown: unknown, about?: { readonly kind?: Kind; readonly attributes?: Attributes }): void;
  /** Runs work and reports what it throws or rejects with, which goes on to the caller. */
  wrap<Arguments extends unknown[], Value>(work: (...all: Arguments) => Value): (...all: Arguments) => Value;
  /** Notes something on the trail. */
  note(name: string, attributes?: Attributes): void;
  screen(name: string): void;
  attribute(name: string, value: AttributeValue | null): void;
  flag(name: string, variant: string | null): void;
  person(id: string | null): void;
  /** Sends what waits; resolves when the server answered or cannot be reached. */
  flush(): Promise<void>;
  /** Says that the session is over and stops collecting. */
  stop(): Promise<void>;
}

const installationName = 'ember.installation';

/** The id of this installation; without a storage that works, every launch counts as one of its own. */
function installationOf(storage: Storage): string {
  try {
    const known = storage.get(installationName);
    if (known !== null && /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/i.test(known)) return known;
  } catch {
    return uuid();
  }
  const made = uuid();
  try {
    storage.set(installationName, made);
  } catch {
    // It is full.
  }
  return made;
}

export function startCollector(options: CollectorOptions): Collector {
  const storage = options.storage ?? defaultStorage();
  const installationId = installationOf(storage);
  if (options.buildType === 'debug' && options.inDebugBuilds !== true) {
    console.info('Rough Ember collects nothing from this debug build; set inDebugBuilds to change that.');
    return idle(installationId);
  }

  const outbox = new Outbox(storage);
  const sender = new Sender({
    outbox,
    server: options.server.replace(/\/+$/, ''),
    key: options.key,
    fetch: globalThis.fetch.bind(globalThis),
    tell: console.warn.bind(console),
  });
  const attributes: Record<string, AttributeValue> = {};
  const flags: Record<string, string> = {};
  const reported = new WeakSet<object>();
  let personId = options.personId ?? null;

  const context = () => ({
    version: options.version,
    build: options.build,
    buildType: options.buildType ?? 'release',
    os: options.os ?? null,
    device: options.device ?? null,
    locale: (globalThis.navigator as Navigator | undefined)?.language ?? null,
    installationId,
    personId,
    flags: { ...flags },
    attributes: { ...attributes },
  });
  const keep = (item: Item) => {
    let kept: Item | null = item;
    try {
      if (options.beforeSend) kept = options.beforeSend(item);
    } catch {
      // A hook that fails must not let through what it was meant to take out.
      kept = null;
    }
    if (kept) outbox.add(plain(kept) as Item);
    sender.soon();
  };

  const session = options.sessions === false ? null : new Session(storage, context);
  const trail = new Trail((event) => session?.note(event));
  const leftOver = Session.leftOver(storage);
  if (leftOver) keep(leftOver);
  if (session) keep(session.item());

  let isAsking = false;
  const stateNow = (): Attributes => {
    // What is reported while the app tells its state would ask for the state again, without end.
    if (isAsking) return {};
    isAsking = true;
    try {
      return options.stateAtCrash?.() ?? {};
    } catch (error) {
      return { stateAtCrash: `failed: ${String(error)}` };
    } finally {
      isAsking = false;
    }
  };

  const report = (thrown: unknown, kind: Kind, more: Attributes) => {
    // One error may come by several ways: wrapped, then uncaught.
    if (typeof thrown === 'object' && thrown !== null) {
      if (reported.has(thrown)) return;
      reported.add(thrown);
    }
    if (Math.random() >= (options.sample?.[kind] ?? 1)) return;
    const state = stateNow();
    const { attributes: shared, ...where } = context();
    keep({
      type: 'report',
      id: uuid(),
      kind,
      occurredAt: new Date().toISOString(),
      sessionId: session?.id ?? null,
      ...where,
      exceptions: describeError(thrown),
      trail: trail.list,
      attributes: { ...shared, ...state, ...more },
    });
    if (!session) return;
    if (kind === 'error') session.countError();
    keep(session.item(kind === 'crash' ? 'crashed' : 'open'));
  };

  const stopWatching = watch(trail, options);
  const stopHearing =
    options.uncaught === false
      ? () => {}
      : hearUncaught((thrown, kind, how) =>
          quietly(() => report(thrown, kind, how === 'rejection' ? { 'javascript.unhandledRejection': true } : {})),
        );
  const onHide = () => {
    if (session) keep(session.item('ended'));
    void sender.now();
  };
  const page = globalThis as unknown as {
    addEventListener?: (event: string, listener: () => void) => void;
    removeEventListener?: (event: string, listener: () => void) => void;
  };
  page.addEventListener?.('pagehide', onHide);
  sender.soon();

  return {
    installationId,
    report: (thrown, { kind = 'error', attributes: more = {} } = {}) => quietly(() => report(thrown, kind, more)),
    wrap:
      (work) =>
      (...all) => {
        const failed = (thrown: unknown): never => {
          quietly(() => report(thrown, 'error', {}));
          throw thrown;
        };
        try {
          const value = work(...all);
          return value instanceof Promise ? (value.catch(failed) as typeof value) : value;
        } catch (thrown) {
          return failed(thrown);
        }
      },
    note: (name, more = {}) => quietly(() => trail.note({ kind: 'custom', name: String(name), attributes: plain(more) as Attributes })),
    screen: (name) => quietly(() => trail.note({ kind: 'screen', name: String(name) })),
    attribute: (name, value) => {
      if (value === null) delete attributes[name];
      else attributes[name] = value;
    },
    flag: (name, variant) => {
      if (variant === null) delete flags[name];
      else flags[name] = variant;
      quietly(() => trail.note({ kind: 'flag', name, variant: String(variant ?? 'none') }));
    },
    person: (id) => {
      personId = id;
    },
    flush: () => sender.now(),
    stop: async () => {
      page.removeEventListener?.('pagehide', onHide);
      stopHearing();
      stopWatching();
      if (session) quietly(() => keep(session.item('ended')));
      await sender.now();
    },
  };
}

/** Whatever fails in here is no trouble of the app. */
function quietly(work: () => void): void {
  try {
    work();
  } catch (problem) {
    try {
      console.warn(`Rough Ember could not keep something: ${String(problem)}`);
    } catch {
      // Nobody can be told.
    }
  }
}

/** What a debug build gets: every call is taken, and nothing is collected. */
const idle = (installationId: string): Collector => ({
  installationId,
  report: () => {},
  wrap: (work) => work,
  note: () => {},
  screen: () => {},
  attribute: () => {},
  flag: () => {},
  person: () => {},
  flush: async () => {},
  stop: async () => {},
});
