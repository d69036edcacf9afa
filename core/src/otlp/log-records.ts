import { bigintOf, decodeMessage, type Message, type MessageShape, messageOf, messagesOf, textOf } from '../bytes/protobuf.ts';
import { asList, asObject, asObjects, asText, type Json, type JsonObject, parseJson } from '../report/json-reader.ts';

export type LogValue = string | number | boolean | readonly LogValue[];
export type LogAttributes = ReadonlyMap<string, LogValue>;

/** One log record with the resource it came from, in whichever encoding it was sent. */
export interface LogRecord {
  /** Milliseconds since 1970; 0 when the record tells no time. */
  readonly timeMs: number;
  readonly severity: number;
  readonly eventName: string | null;
  readonly body: LogValue | null;
  readonly attributes: LogAttributes;
  readonly resource: LogAttributes;
}

// Shapes after opentelemetry-proto 1.x: collector/logs/v1, logs/v1, common/v1, resource/v1.
const anyValue: MessageShape = {
  1: { name: 'stringValue', type: 'text' },
  2: { name: 'boolValue', type: 'boolean' },
  3: { name: 'intValue', type: 'signed' },
  4: { name: 'doubleValue', type: 'double' },
  5: { name: 'arrayValue', type: () => ({ 1: { name: 'values', type: anyValue, repeated: true } }) },
  6: { name: 'kvlistValue', type: () => ({ 1: { name: 'values', type: keyValue, repeated: true } }) },
};
const keyValue: MessageShape = { 1: { name: 'key', type: 'text' }, 2: { name: 'value', type: anyValue } };
const logRecord: MessageShape = {
  1: { name: 'timeUnixNano', type: 'fixed64' },
  2: { name: 'severityNumber', type: 'unsigned' },
  5: { name: 'body', type: anyValue },
  6: { name: 'attributes', type: keyValue, repeated: true },
  11: { name: 'observedTimeUnixNano', type: 'fixed64' },
  12: { name: 'eventName', type: 'text' },
};
const exportRequest: MessageShape = {
  1: {
    name: 'resourceLogs',
    repeated: true,
    type: {
      1: { name: 'resource', type: { 1: { name: 'attributes', type: keyValue, repeated: true } } },
      2: { name: 'scopeLogs', repeated: true, type: { 2: { name: 'logRecords', type: logRecord, repeated: true } } },
    },
  },
};

const milliseconds = (nanoseconds: bigint): number => Number(nanoseconds / 1_000_000n);

/** Reads the protobuf encoding of ExportLogsServiceRequest. Throws ProtobufProblem on bytes that are none. */
export function decodeLogRecords(bytes: Uint8Array): LogRecord[] {
  return messagesOf(decodeMessage(bytes, exportRequest).resourceLogs).flatMap((group) => {
    const resource = readPairs(messageOf(group.resource)?.attributes);
    return messagesOf(group.scopeLogs).flatMap((scope) =>
      messagesOf(scope.logRecords).map(
        (record): LogRecord => ({
          timeMs: milliseconds(bigintOf(record.timeUnixNano) || bigintOf(record.observedTimeUnixNano)),
          severity: Number(bigintOf(record.severityNumber)),
          eventName: textOf(record.eventName),
          body: readValue(messageOf(record.body)),
          attributes: readPairs(record.attributes),
          resource,
        }),
      ),
    );
  });
}

function readPairs(value: Message[string]): LogAttributes {
  const pairs = new Map<string, LogValue>();
  for (const pair of messagesOf(value)) {
    const key = textOf(pair.key);
    const read = readValue(messageOf(pair.value));
    if (key !== null && read !== null) pairs.set(key, read);
  }
  return pairs;
}

function readValue(value: Message | null): LogValue | null {
  if (value === null) return null;
  for (const plain of [value.stringValue, value.boolValue, value.doubleValue])
    if (typeof plain === 'string' || typeof plain === 'boolean' || typeof plain === 'number') return plain;
  if (typeof value.intValue === 'bigint') return plainNumber(value.intValue);
  const list = messageOf(value.arrayValue);
  if (list) return messagesOf(list.values).flatMap((one) => readValue(one) ?? []);
  const pairs = messageOf(value.kvlistValue);
  return pairs ? JSON.stringify(Object.fromEntries(readPairs(pairs.values))) : null;
}

/** A whole number a double cannot hold stays text. */
const plainNumber = (value: bigint): number | string =>
  value >= BigInt(Number.MIN_SAFE_INTEGER) && value <= BigInt(Number.MAX_SAFE_INTEGER) ? Number(value) : value.toString();

/** Reads the JSON encoding (proto3 JSON mapping with OTLP's exceptions); null when the text is no such document. */
export function parseLogRecords(text: string): LogRecord[] | null {
  const request = asObject(parseJson(text));
  if (!request || (request.resourceLogs !== undefined && !Array.isArray(request.resourceLogs))) return null;
  return asObjects(request.resourceLogs).flatMap((group) => {
    const resource = readJsonPairs(asObject(group.resource)?.attributes);
    return asObjects(group.scopeLogs).flatMap((scope) =>
      asObjects(scope.logRecords).map(
        (record): LogRecord => ({
          timeMs: milliseconds(wholeNumber(record.timeUnixNano) || wholeNumber(record.observedTimeUnixNano)),
          severity: Number(wholeNumber(record.severityNumber)),
          eventName: asText(record.eventName),
          body: readJsonValue(asObject(record.body), 0),
          attributes: readJsonPairs(record.attributes),
          resource,
        }),
      ),
    );
  });
}

/** A 64-bit number: text in the JSON mapping, though a number is allowed too. */
function wholeNumber(value: Json | undefined): bigint {
  if (typeof value === 'string' && /^\d{1,20}$/.test(value)) return BigInt(value);
  return typeof value === 'number' && Number.isFinite(value) && value >= 0 ? BigInt(Math.trunc(value)) : 0n;
}

function readJsonPairs(value: Json | undefined): LogAttributes {
  const pairs = new Map<string, LogValue>();
  for (const pair of asObjects(value)) {
    const read = readJsonValue(asObject(pair.value), 0);
    if (typeof pair.key === 'string' && read !== null) pairs.set(pair.key, read);
  }
  return pairs;
}

const deepestValue = 16;

function readJsonValue(value: JsonObject | null, depth: number): LogValue | null {
  if (value === null || depth > deepestValue) return null;
  for (const plain of [value.stringValue, value.boolValue, value.doubleValue])
    if (typeof plain === 'string' || typeof plain === 'boolean' || typeof plain === 'number') return plain;
  if (value.intValue !== undefined) {
    const text = String(value.intValue);
    return /^-?\d{1,19}$/.test(text) ? plainNumber(BigInt(text)) : null;
  }
  const list = asObject(value.arrayValue);
  if (list) return asList(list.values).flatMap((one) => readJsonValue(asObject(one), depth + 1) ?? []);
  const pairs = asObject(value.kvlistValue);
  return pairs ? JSON.stringify(Object.fromEntries(readJsonPairs(pairs.values))) : null;
}
