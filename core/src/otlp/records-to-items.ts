import { keepSection } from '../report/formats/sections.ts';
import { readStacks } from '../report/formats/stacks.ts';
import { printable } from '../report/printable.ts';
import type { ReportInput } from '../report/report.ts';
import type { LogAttributes, LogRecord, LogValue } from './log-records.ts';

/**
 * What a log record is for us: an item still to be put right by its schema, an event of a session's trail, or nothing, and why.
 * A record of an app that could have been one is refused; of any other kind it is passed over.
 */
export type FromRecord =
  | { readonly as: 'item'; readonly item: object }
  | { readonly as: 'trail'; readonly sessionId: string; readonly event: object }
  | { readonly as: 'refused' | 'passed-over'; readonly reason: string };

/** Makes a UUID that is always the same for one text; only the platform has the hash it takes. */
export type MakeId = (text: string) => string;

const uuid = /^[0-9a-fA-F]{8}(-[0-9a-fA-F]{4}){3}-[0-9a-fA-F]{12}$/;

/** Severity numbers from 21 are FATAL (OpenTelemetry, "Logs Data Model", SeverityNumber). */
const fatalSeverity = 21;

/**
 * Turns a log record into an item, by the semantic conventions of OpenTelemetry: exceptions in logs (`exception.*`), crash
 * events of devices, session events (`session.start`, `session.end`), and the resource attributes of services, apps,
 * operating systems and devices. A record of another kind that names its session is an event of that session.
 */
export function itemFromRecord(record: LogRecord, { receivedAt, makeId }: { receivedAt: string; makeId: MakeId }): FromRecord {
  const reader = new RecordReader(record, receivedAt, makeId);
  const event = record.eventName ?? reader.text('event.name');
  if (event === 'session.start' || event === 'session.end') return reader.session(event === 'session.end');
  if (reader.text('exception.type') !== null || reader.text('exception.message') !== null || reader.text('exception.stacktrace') !== null)
    return reader.exception(event);
  return reader.event(event);
}

/** Attributes that became fields of the item. */
const taken = new Set(
  `exception.type exception.message exception.stacktrace exception.escaped event.name service.version app.build_id deployment.environment.name
  deployment.environment os.name os.type os.version os.build_id device.manufacturer device.model.identifier device.model.name app.installation.id
  device.id user.id enduser.id session.id session.previous_id browser.language network.connection.type network.carrier.name
  geo.country.iso_code thread.name log.record.uid`.split(/\s+/),
);

class RecordReader {
  constructor(
    private readonly record: LogRecord,
    private readonly receivedAt: string,
    private readonly makeId: MakeId,
  ) {}

  private value(name: string): LogValue | undefined {
    return this.record.attributes.get(name) ?? this.record.resource.get(name);
  }

  text(name: string): string | null {
    const value = this.value(name);
    return value === undefined || value === '' ? null : wordValue(value);
  }

  private first(...names: string[]): string | null {
    for (const name of names) {
      const text = this.text(name);
      if (text !== null) return text;
    }
    return null;
  }

  private id(...names: string[]): string | null {
    const text = this.first(...names);
    return text === null ? null : uuid.test(text) ? text : this.makeId(text);
  }

  private get at(): string {
    const time = this.record.timeMs;
    return time > 0 && time < 8.64e15 ? new Date(time).toISOString() : this.receivedAt;
  }

  /** Texts that are too long are clipped when the item is put right. */
  private context(version: string) {
    const osName = this.first('os.name', 'os.type');
    const model = this.first('device.model.identifier', 'device.model.name');
    const environment = this.first('deployment.environment.name', 'deployment.environment');
    const network = this.text('network.connection.type');
    return {
      version,
      build: this.text('app.build_id') ?? version,
      ...(environment === null ? {} : { buildType: { production: 'release', development: 'debug' }[environment] ?? environment }),
      os: osName === null ? null : { name: osName, version: this.text('os.version') ?? '', build: this.text('os.build_id') },
      device: model === null ? null : { manufacturer: this.text('device.manufacturer'), model },
      installationId: this.id('app.installation.id', 'device.id'),
      personId: this.first('user.id', 'enduser.id'),
      locale: this.text('browser.language'),
      country: this.text('geo.country.iso_code'),
      network:
        network === null ? null : (({ wifi: 'wifi', cell: 'cellular', wired: 'wired', unavailable: 'none' } as const)[network] ?? 'other'),
      carrier: this.text('network.carrier.name'),
    } satisfies Partial<ReportInput>;
  }

  private attributes(): Record<string, LogValue> {
    const all = new Map<string, LogValue>();
    for (const source of [this.record.attributes, this.record.resource] satisfies LogAttributes[])
      for (const [name, value] of source) if (!taken.has(name) && !all.has(name)) all.set(name, value);
    return Object.fromEntries(all);
  }

  /** What is neither an exception nor the end of a session happened in one, if it names it. */
  event(name: string | null): FromRecord {
    const sessionId = this.id('session.id');
    if (sessionId === null)
      return {
        as: 'passed-over',
        reason:
          'the record is neither an exception (no exception.type, exception.message or exception.stacktrace) nor a session event, and names no session (session.id) whose trail it could join',
      };
    const { body } = this.record;
    if (name !== null)
      return {
        as: 'trail',
        sessionId,
        event: { kind: 'custom', at: this.at, name, attributes: Object.fromEntries(this.record.attributes) },
      };
    return {
      as: 'trail',
      sessionId,
      event: { kind: 'log', at: this.at, level: levelOf(this.record.severity), message: body === null ? '' : wordValue(body) },
    };
  }

  session(ended: boolean): FromRecord {
    const id = this.id('session.id');
    const version = this.text('service.version');
    if (id === null) return { as: 'refused', reason: 'the session event has no attribute session.id' };
    if (version === null) return noVersion;
    return {
      as: 'item',
      item: {
        type: 'session',
        id,
        sequence: ended ? 1 : 0,
        at: this.at,
        startedAt: this.at,
        state: ended ? 'ended' : 'open',
        ...this.context(version),
        attributes: this.attributes(),
      },
    };
  }

  exception(event: string | null): FromRecord {
    const version = this.text('service.version');
    if (version === null) return noVersion;
    const stack = this.text('exception.stacktrace');
    const type = this.text('exception.type');
    const message = this.text('exception.message');
    const read = stack === null ? undefined : readStacks(printable(stack).split('\n'))[0];
    const named = { type: type ?? 'unknown', message };
    const exceptions = read
      ? [{ ...(read.exceptions[0] as object), ...(type === null ? {} : named) }, ...read.exceptions.slice(1)]
      : [named];
    const fatal = this.value('exception.escaped') === true || this.record.severity >= fatalSeverity || event === 'device.crash';
    const thread = this.text('thread.name');
    const item = {
      type: 'report',
      id:
        this.id('log.record.uid') ??
        this.makeId(JSON.stringify([this.record.timeMs, [...this.record.resource], [...this.record.attributes]])),
      kind: fatal ? 'crash' : 'error',
      occurredAt: this.at,
      sessionId: this.id('session.id'),
      ...this.context(version),
      exceptions,
      threads: thread === null ? (read?.threads ?? []) : [{ name: thread, crashed: true }],
      attributes: this.attributes(),
      sections: [
        ...(stack !== null && !read ? [keepSection('exception.stacktrace', stack)] : []),
        ...(typeof this.record.body === 'string' && this.record.body !== message
          ? [keepSection('Body of the log record', this.record.body)]
          : []),
      ],
    };
    return { as: 'item', item };
  }
}

const noVersion = {
  as: 'refused',
  reason: 'the resource has no attribute service.version, which says what version of the app it is',
} as const;

/** A value as text; lists as people write them. */
const wordValue = (value: LogValue): string =>
  Array.isArray(value) ? value.map(wordValue).join(', ') : typeof value === 'object' ? JSON.stringify(value) : String(value);

/** Of four severity numbers each (OpenTelemetry, "Logs Data Model", SeverityNumber), the trail knows one level; trace counts as debug. */
const levelOf = (severity: number): 'debug' | 'info' | 'warn' | 'error' =>
  severity >= 17 ? 'error' : severity >= 13 ? 'warn' : severity === 0 || severity >= 9 ? 'info' : 'debug';
