import { type Attributes, reportLimits } from '../report/limits.ts';
import { printable } from '../report/printable.ts';
import type { ReportInput } from '../report/report.ts';
import { keepSection } from '../report/sections.ts';
import type { SessionItemInput } from '../report/session.ts';
import { readStacks } from '../report/stack-readers.ts';
import type { LogAttributes, LogRecord, LogValue } from './log-records.ts';

/** What a log record is for us: an item still to be checked against its schema, or nothing, and why. */
export type FromRecord = { readonly item: object } | { readonly item: null; readonly reason: string };

/** Makes a UUID that is always the same for one text; only the platform has the hash it takes. */
export type MakeId = (text: string) => string;

const uuid = /^[0-9a-fA-F]{8}(-[0-9a-fA-F]{4}){3}-[0-9a-fA-F]{12}$/;

/** Severity numbers from 21 are FATAL (OpenTelemetry, "Logs Data Model", SeverityNumber). */
const fatalSeverity = 21;

/**
 * Turns a log record into an item, by the semantic conventions of OpenTelemetry: exceptions in logs (`exception.*`), crash
 * events of devices, session events (`session.start`, `session.end`), and the resource attributes of services, apps,
 * operating systems and devices. A record of another kind gives none.
 */
export function itemFromRecord(record: LogRecord, { receivedAt, makeId }: { receivedAt: string; makeId: MakeId }): FromRecord {
  const reader = new RecordReader(record, receivedAt, makeId);
  const event = record.eventName ?? reader.text('event.name');
  if (event === 'session.start' || event === 'session.end') return reader.session(event === 'session.end');
  if (reader.text('exception.type') !== null || reader.text('exception.message') !== null || reader.text('exception.stacktrace') !== null)
    return reader.exception(event);
  return {
    item: null,
    reason: 'the record is neither an exception (no exception.type, exception.message or exception.stacktrace) nor a session event',
  };
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
    return value === undefined || value === '' ? null : Array.isArray(value) ? value.join(', ') : String(value);
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

  private context(version: string) {
    const osName = this.first('os.name', 'os.type');
    const model = this.first('device.model.identifier', 'device.model.name');
    const environment = this.first('deployment.environment.name', 'deployment.environment');
    const country = this.text('geo.country.iso_code');
    const network = this.text('network.connection.type');
    return {
      version,
      build: this.text('app.build_id') ?? version,
      ...(environment === null
        ? {}
        : { buildType: { production: 'release', development: 'debug' }[environment] ?? environment.slice(0, 50) }),
      os:
        osName === null
          ? null
          : {
              name: osName.slice(0, 50),
              version: (this.text('os.version') ?? '').slice(0, 50),
              build: this.text('os.build_id')?.slice(0, 100) ?? null,
            },
      device: model === null ? null : { manufacturer: this.text('device.manufacturer')?.slice(0, 100) ?? null, model: model.slice(0, 100) },
      installationId: this.id('app.installation.id', 'device.id'),
      personId: this.first('user.id', 'enduser.id')?.slice(0, 200) ?? null,
      locale: this.text('browser.language')?.slice(0, 50) ?? null,
      country: country !== null && /^[A-Z]{2}$/.test(country) ? country : null,
      network:
        network === null ? null : (({ wifi: 'wifi', cell: 'cellular', wired: 'wired', unavailable: 'none' } as const)[network] ?? 'other'),
      carrier: this.text('network.carrier.name')?.slice(0, 100) ?? null,
    } satisfies Partial<ReportInput>;
  }

  private attributes(): Attributes {
    const all: Attributes = {};
    for (const source of [this.record.attributes, this.record.resource] satisfies LogAttributes[])
      for (const [name, value] of source)
        if (!taken.has(name) && !(name in all) && Object.keys(all).length < reportLimits.attributes)
          all[name.slice(0, 200)] = plainValue(value);
    return all;
  }

  session(ended: boolean): FromRecord {
    const id = this.id('session.id');
    const version = this.text('service.version');
    if (id === null) return { item: null, reason: 'the session event has no attribute session.id' };
    if (version === null) return noVersion;
    const item: SessionItemInput & { type: 'session' } = {
      type: 'session',
      id,
      sequence: ended ? 1 : 0,
      at: this.at,
      startedAt: this.at,
      state: ended ? 'ended' : 'open',
      ...this.context(version),
      attributes: this.attributes(),
    };
    return { item };
  }

  exception(event: string | null): FromRecord {
    const version = this.text('service.version');
    if (version === null) return noVersion;
    const stack = this.text('exception.stacktrace');
    const type = this.text('exception.type');
    const message = this.text('exception.message');
    const read = stack === null ? undefined : readStacks(printable(stack).split('\n'))[0];
    const named = {
      type: (type ?? 'unknown').slice(0, reportLimits.nameCharacters),
      message: message?.slice(0, reportLimits.messageCharacters) ?? null,
    };
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
      threads: thread === null ? (read?.threads ?? []) : [{ name: thread.slice(0, reportLimits.nameCharacters), crashed: true }],
      attributes: this.attributes(),
      sections: [
        ...(stack !== null && !read ? [keepSection('exception.stacktrace', stack)] : []),
        ...(typeof this.record.body === 'string' && this.record.body !== message
          ? [keepSection('Body of the log record', this.record.body)]
          : []),
      ],
    };
    return { item };
  }
}

const noVersion = {
  item: null,
  reason: 'the resource has no attribute service.version, which says what version of the app it is',
} as const;

function plainValue(value: LogValue): Attributes[string] {
  if (typeof value === 'string') return value.slice(0, reportLimits.attributeCharacters);
  if (typeof value === 'object')
    return value
      .slice(0, reportLimits.listElements)
      .map((one) =>
        typeof one === 'object' ? JSON.stringify(one) : typeof one === 'string' ? one.slice(0, reportLimits.attributeCharacters) : one,
      );
  return Number.isFinite(value) || typeof value === 'boolean' ? value : String(value);
}
