import type { ReportContext } from '../report/context.ts';
import type { Attributes } from '../report/limits.ts';
import type { Report } from '../report/report.ts';
import type { SessionItem } from '../report/session.ts';
import type { ReadableReport } from '../symbolicate/readable-report.ts';
import { stackText } from '../symbolicate/stack-text.ts';

/** A report with what was made of it. */
export interface ForwardedReport {
  readonly report: Report;
  /** Null where nothing could be made of it. */
  readonly readable: ReadableReport | null;
  /** `LG-142`; null where it is in none. */
  readonly caseRef: string | null;
  /** Where the case is looked at. */
  readonly address: string | null;
}

type Value = string | number | boolean | readonly (string | number | boolean)[];
type Named = readonly (readonly [name: string, value: Value | null | undefined])[];

/** A log record with the resource it is of, in the JSON encoding of the protocol. */
export interface EncodedRecord {
  readonly resource: readonly object[];
  readonly record: object;
}

/** Of SeverityNumber (OpenTelemetry, "Logs Data Model"): ERROR and FATAL. */
const severities = { error: { severityNumber: 17, severityText: 'ERROR' }, fatal: { severityNumber: 21, severityText: 'FATAL' } };
const infoSeverity = { severityNumber: 9, severityText: 'INFO' };

const networks = { wifi: 'wifi', cellular: 'cell', wired: 'wired', none: 'unavailable', other: 'unknown' } as const;
const environments: Readonly<Record<string, string>> = { release: 'production', debug: 'development' };

/**
 * A report as a log record of OpenTelemetry, by its semantic conventions (exceptions in logs, device, os, session, user); what these
 * do not know is under `rough_ember.`. Its stack is the readable one.
 */
export function recordOfReport(service: string, { report, readable, caseRef, address }: ForwardedReport): EncodedRecord {
  const [first] = readable?.exceptions ?? [];
  const [told] = report.exceptions;
  const stack = readable === null ? '' : stackText(readable);
  const isFatal = report.kind !== 'error';
  return {
    resource: resourceOf(service, report),
    record: {
      ...timesOf(report.occurredAt),
      ...(isFatal ? severities.fatal : severities.error),
      eventName: report.kind === 'crash' ? 'device.crash' : 'exception',
      attributes: encoded([
        ['log.record.uid', report.id],
        ['exception.type', first?.type ?? told?.type ?? report.kind],
        ['exception.message', first?.message ?? told?.message],
        ['exception.stacktrace', stack === '' ? null : stack],
        ['session.id', report.sessionId],
        ...whoAndWhere(report),
        ...ownValues(report),
        ['rough_ember.kind', report.kind],
        ['rough_ember.case', caseRef],
        ['url.full', address],
      ]),
    },
  };
}

/** The start of a session, or its end, as a log record; null for an item that tells of neither. */
export function recordOfSession(service: string, item: SessionItem): EncodedRecord | null {
  const isStart = item.sequence === 0 && item.state === 'open';
  if (!isStart && item.state === 'open') return null;
  return {
    resource: resourceOf(service, item),
    record: {
      ...timesOf(isStart ? item.startedAt : item.at),
      ...infoSeverity,
      eventName: isStart ? 'session.start' : 'session.end',
      attributes: encoded([
        ['session.id', item.id],
        ...whoAndWhere(item),
        ...ownValues(item),
        ['rough_ember.session.state', item.state],
        ['rough_ember.session.duration_ms', isStart ? null : item.durationMs],
        ['rough_ember.session.handled_errors', isStart ? null : item.errors],
      ]),
    },
  };
}

/** A request of OTLP/HTTP in JSON (ExportLogsServiceRequest) that holds records; those of one resource lie together. */
export function exportRequest(records: readonly EncodedRecord[], version: string): object {
  const byResource = new Map<string, { resource: readonly object[]; logRecords: object[] }>();
  for (const { resource, record } of records) {
    const name = JSON.stringify(resource);
    const group = byResource.get(name) ?? { resource, logRecords: [] };
    byResource.set(name, group);
    group.logRecords.push(record);
  }
  const scope = { name: 'rough-ember', version };
  return {
    resourceLogs: [...byResource.values()].map(({ resource, logRecords }) => ({
      resource: { attributes: resource },
      scopeLogs: [{ scope, logRecords }],
    })),
  };
}

const nanoseconds = (ms: number): string => `${BigInt(ms) * 1_000_000n}`;
const timesOf = (at: string) => ({ timeUnixNano: nanoseconds(Date.parse(at)), observedTimeUnixNano: nanoseconds(Date.parse(at)) });

const resourceOf = (service: string, { version, build, buildType, os, device }: ReportContext): object[] =>
  encoded([
    ['service.name', service],
    ['service.version', version],
    ['app.build_id', build],
    ['deployment.environment.name', environments[buildType] ?? buildType],
    ['os.name', os?.name],
    ['os.version', os?.version],
    ['os.build_id', os?.build],
    ['device.manufacturer', device?.manufacturer],
    ['device.model.identifier', device?.model],
  ]);

const whoAndWhere = ({ installationId, personId, country, network, carrier, locale }: ReportContext): Named => [
  ['app.installation.id', installationId],
  ['user.id', personId],
  ['geo.country.iso_code', country],
  ['network.connection.type', network && networks[network]],
  ['network.carrier.name', carrier],
  ['browser.language', locale],
];

const ownValues = ({ flags, attributes }: { readonly flags: Readonly<Record<string, string>>; readonly attributes: Attributes }): Named => [
  ...Object.entries(flags).map(([name, variant]) => [`rough_ember.flags.${name}`, variant] as const),
  ...Object.entries(attributes).map(([name, value]) => [name, value as Value] as const),
];

function encoded(named: Named): object[] {
  return named.flatMap(([key, value]) => (value === null || value === undefined ? [] : [{ key, value: encodedValue(value) }]));
}

function encodedValue(value: Value): object {
  if (typeof value === 'string') return { stringValue: value };
  if (typeof value === 'boolean') return { boolValue: value };
  // The JSON encoding has whole numbers as text, since they may have 64 bits.
  if (typeof value === 'number') return Number.isSafeInteger(value) ? { intValue: String(value) } : { doubleValue: value };
  return { arrayValue: { values: value.map(encodedValue) } };
}
