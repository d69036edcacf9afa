import { bigintOf, decodeMessage, type Message, type MessageShape, messageOf, messagesOf, textOf } from '../bytes/protobuf.ts';
import { asObject, asObjects, asText, type Json, parseJson } from '../report/formats/json-reader.ts';

/** A value as it was sent; named ones in an object. */
export type LogValue = string | number | boolean | readonly LogValue[] | { readonly [key: string]: LogValue };
export type LogAttributes = ReadonlyMap<string, LogValue>;

/** One log record with the resource it came from, in whichever encoding it was sent. */
export interface LogRecord {
  /** Milliseconds since 1970; 0 when the record tells no time. */
  readonly timeMs: number;
  readonly severity: number;
  readonly severityText: string | null;
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
  3: { name: 'severityText', type: 'text' },
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

/** How the fields of a message are got at, in either encoding; both have the same names. */
interface Encoding<Field> {
  message(field: Field | undefined): Fields<Field> | null;
  messages(field: Field | undefined): Fields<Field>[];
  text(field: Field | undefined): string | null;
  /** An unsigned number of 64 bits; 0 when there is none. */
  unsigned(field: Field | undefined): bigint;
  /** A signed one, as an attribute has it. */
  signed(field: Field | undefined): bigint | null;
}
type Fields<Field> = { readonly [name: string]: Field | undefined };

const protobufEncoding: Encoding<Message[string]> = {
  message: messageOf,
  messages: messagesOf,
  text: textOf,
  unsigned: bigintOf,
  signed: (field) => (typeof field === 'bigint' ? field : null),
};

const jsonEncoding: Encoding<Json> = {
  message: asObject,
  messages: asObjects,
  text: asText,
  // Text in the JSON mapping, though a number is allowed too.
  unsigned: (field) => {
    if (typeof field === 'string' && /^\d{1,20}$/.test(field)) return BigInt(field);
    return typeof field === 'number' && Number.isFinite(field) && field >= 0 ? BigInt(Math.trunc(field)) : 0n;
  },
  signed: (field) => (/^-?\d{1,19}$/.test(String(field)) ? BigInt(String(field)) : null),
};

/** The first records of a request, and how many there are behind them that were not read. */
export interface ReadRecords {
  readonly records: readonly LogRecord[];
  readonly beyond: number;
}

/** Reads the protobuf encoding of ExportLogsServiceRequest. Throws ProtobufProblem on bytes that are none. */
export const decodeLogRecords = (bytes: Uint8Array, most: number): ReadRecords =>
  readRequest(decodeMessage(bytes, exportRequest), protobufEncoding, most);

/** Reads the JSON encoding (proto3 JSON mapping with OTLP's exceptions); null when the text is no such document. */
export function parseLogRecords(text: string, most: number): ReadRecords | null {
  const request = asObject(parseJson(text));
  if (!request || (request.resourceLogs !== undefined && !Array.isArray(request.resourceLogs))) return null;
  return readRequest(request, jsonEncoding, most);
}

function readRequest<Field>(request: Fields<Field>, encoding: Encoding<Field>, most: number): ReadRecords {
  const records: LogRecord[] = [];
  let beyond = 0;
  for (const group of encoding.messages(request.resourceLogs)) {
    const resource = readPairs(encoding.message(group.resource)?.attributes, encoding);
    for (const scope of encoding.messages(group.scopeLogs))
      for (const record of encoding.messages(scope.logRecords)) {
        if (records.length < most) records.push(readRecord(record, encoding, resource));
        else beyond++;
      }
  }
  return { records, beyond };
}

const milliseconds = (nanoseconds: bigint): number => Number(nanoseconds / 1_000_000n);

const readRecord = <Field>(record: Fields<Field>, encoding: Encoding<Field>, resource: LogAttributes): LogRecord => ({
  timeMs: milliseconds(encoding.unsigned(record.timeUnixNano) || encoding.unsigned(record.observedTimeUnixNano)),
  severity: Number(encoding.unsigned(record.severityNumber)),
  severityText: encoding.text(record.severityText),
  eventName: encoding.text(record.eventName),
  body: readValue(encoding.message(record.body), encoding),
  attributes: readPairs(record.attributes, encoding),
  resource,
});

function readPairs<Field>(pairs: Field | undefined, encoding: Encoding<Field>): LogAttributes {
  const read = new Map<string, LogValue>();
  for (const pair of encoding.messages(pairs)) {
    const key = encoding.text(pair.key);
    const value = readValue(encoding.message(pair.value), encoding);
    if (key !== null && value !== null) read.set(key, value);
  }
  return read;
}

/** How deep values may lie within each other; what lies deeper is left out. */
const deepestValue = 16;

function readValue<Field>(value: Fields<Field> | null, encoding: Encoding<Field>, depth = 0): LogValue | null {
  if (value === null || depth > deepestValue) return null;
  for (const plain of [value.stringValue, value.boolValue, value.doubleValue])
    if (typeof plain === 'string' || typeof plain === 'boolean' || typeof plain === 'number') return plain;
  const whole = encoding.signed(value.intValue);
  if (whole !== null) return plainNumber(whole);
  const list = encoding.message(value.arrayValue);
  if (list)
    return encoding
      .messages(list.values)
      .map((one) => readValue(one, encoding, depth + 1))
      .filter((one) => one !== null);
  const pairs = encoding.message(value.kvlistValue);
  if (!pairs) return null;
  return Object.fromEntries(
    encoding.messages(pairs.values).flatMap((pair) => {
      const key = encoding.text(pair.key);
      const inner = readValue(encoding.message(pair.value), encoding, depth + 1);
      return key === null || inner === null ? [] : [[key, inner]];
    }),
  );
}

/** A whole number a double cannot hold stays text. */
const plainNumber = (value: bigint): number | string =>
  value >= BigInt(Number.MIN_SAFE_INTEGER) && value <= BigInt(Number.MAX_SAFE_INTEGER) ? Number(value) : value.toString();
