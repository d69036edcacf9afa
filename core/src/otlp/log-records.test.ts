import protobuf from 'protobufjs/minimal.js';
import { describe, expect, it } from 'vitest';
import { decodeMessage, ProtobufProblem } from '../bytes/protobuf.ts';
import { itemSchema } from '../report/item.ts';
import { encodePartialSuccess, encodeStatus, partialSuccessJson, rpcCode } from './answers.ts';
import { decodeLogRecords, type LogRecord, parseLogRecords } from './log-records.ts';
import { itemFromRecord } from './records-to-items.ts';

const about = {
  receivedAt: '2026-01-02T03:04:05.000Z',
  makeId: (text: string) => `0192d3a4-5b6c-4d7e-8f90-${text.length.toString(16).padStart(12, '0')}`,
};
const record = (attributes: Record<string, LogRecord['body']>, more: Partial<LogRecord> = {}): LogRecord => ({
  timeMs: 0,
  severity: 9,
  eventName: null,
  body: null,
  attributes: new Map(Object.entries(attributes).flatMap(([name, value]) => (value === null ? [] : [[name, value] as const]))),
  resource: new Map([['service.version', '2.1.0']]),
  ...more,
});
const itemOf = (from: ReturnType<typeof itemFromRecord>) => {
  if (from.item === null) throw new Error(from.reason);
  return itemSchema.parse(from.item);
};

describe('log records in JSON', () => {
  it('are read with every kind of value', () => {
    const values = [
      { key: 'text', value: { stringValue: 'a' } },
      { key: 'count', value: { intValue: '12' } },
      { key: 'large', value: { intValue: '9223372036854775807' } },
      { key: 'share', value: { doubleValue: 0.5 } },
      { key: 'is', value: { boolValue: false } },
      { key: 'list', value: { arrayValue: { values: [{ stringValue: 'x' }, { intValue: 3 }] } } },
      { key: 'map', value: { kvlistValue: { values: [{ key: 'a', value: { intValue: 1 } }] } } },
      { key: 'nothing', value: {} },
    ];
    const [read] =
      parseLogRecords(
        JSON.stringify({
          resourceLogs: [
            { scopeLogs: [{ logRecords: [{ timeUnixNano: '1767323045000000000', severityNumber: 17, attributes: values }] }] },
          ],
        }),
      ) ?? [];
    expect(read?.timeMs).toBe(1_767_323_045_000);
    expect(Object.fromEntries(read?.attributes ?? [])).toEqual({
      text: 'a',
      count: 12,
      large: '9223372036854775807',
      share: 0.5,
      is: false,
      list: ['x', 3],
      map: '{"a":1}',
    });
  });

  it.each(['', '[]', '{"resourceLogs":{}}', 'null'])('%j is no request', (text) => expect(parseLogRecords(text)).toBeNull());
  it('may be empty', () => expect(parseLogRecords('{}')).toEqual([]));
});

describe('what a record becomes', () => {
  it.each([
    ['error', record({ 'exception.type': 'TypeError' })],
    ['crash', record({ 'exception.type': 'TypeError' }, { severity: 21 })],
    ['crash', record({ 'exception.type': 'TypeError', 'exception.escaped': true })],
    ['crash', record({ 'exception.message': 'x' }, { eventName: 'device.crash' })],
  ])('a report of kind %s', (kind, one) =>
    expect(itemOf(itemFromRecord(one, about))).toMatchObject({ type: 'report', kind, occurredAt: about.receivedAt }),
  );

  it('a report with the chain that its stack text holds, under the type the record names', () => {
    const stack =
      'java.lang.IllegalStateException: no route\n\tat com.larkfield.A.b(A.java:1)\nCaused by: java.io.IOException: closed\n\tat com.larkfield.C.d(C.java:2)\n';
    expect(
      itemOf(
        itemFromRecord(record({ 'exception.type': 'IllegalStateException', 'exception.stacktrace': stack, 'thread.name': 'main' }), about),
      ),
    ).toMatchObject({
      exceptions: [
        { type: 'IllegalStateException', frames: [{ class: 'com.larkfield.A' }] },
        { type: 'java.io.IOException', relation: 'cause' },
      ],
      threads: [{ name: 'main', crashed: true }],
    });
  });

  it('a report that keeps a stack nobody can read', () => {
    expect(itemOf(itemFromRecord(record({ 'exception.type': 'X', 'exception.stacktrace': 'somewhere, somehow' }), about))).toMatchObject({
      sections: [{ name: 'exception.stacktrace', text: 'somewhere, somehow' }],
    });
  });

  it('a session, its state and its sequence from the event', () => {
    const id = '2c5e28ba-2fa1-41d2-883f-0016d3cca427';
    expect(itemOf(itemFromRecord(record({ 'session.id': id }, { eventName: 'session.start' }), about))).toMatchObject({
      type: 'session',
      id,
      sequence: 0,
      state: 'open',
    });
    expect(itemOf(itemFromRecord(record({ 'session.id': id, 'event.name': 'session.end' }), about))).toMatchObject({
      sequence: 1,
      state: 'ended',
    });
  });

  it('circumstances by the semantic conventions', () => {
    const one = record(
      {
        'exception.type': 'X',
        'network.connection.type': 'cell',
        'network.carrier.name': 'Fjordnett',
        'geo.country.iso_code': 'NO',
        'browser.language': 'nb-NO',
        'custom.thing': ['a', 1],
      },
      {
        resource: new Map(
          Object.entries({
            'service.version': '2.1.0',
            'app.build_id': '211',
            'deployment.environment.name': 'development',
            'os.name': 'Android',
            'os.version': '15',
            'device.model.identifier': 'OD-40',
            'app.installation.id': 'not-a-uuid',
          }),
        ),
      },
    );
    expect(itemOf(itemFromRecord(one, about))).toMatchObject({
      build: '211',
      buildType: 'debug',
      os: { name: 'Android', version: '15' },
      device: { model: 'OD-40' },
      network: 'cellular',
      carrier: 'Fjordnett',
      country: 'NO',
      locale: 'nb-NO',
      installationId: expect.stringMatching(/^0192d3a4-/),
      attributes: { 'custom.thing': ['a', 1] },
    });
  });

  it.each([
    ['neither an exception', record({ 'http.route': '/tiles' })],
    ['service.version', record({ 'exception.type': 'X' }, { resource: new Map() })],
    ['session.id', record({}, { eventName: 'session.start' })],
  ])('nothing, and why: %s', (reason, one) =>
    expect(itemFromRecord(one, about)).toMatchObject({ item: null, reason: expect.stringContaining(reason) }),
  );
});

describe('answers', () => {
  it('are empty when everything was taken', () => {
    expect(partialSuccessJson(null)).toEqual({});
    expect(encodePartialSuccess(null)).toHaveLength(0);
  });

  it('tell in protobuf what they tell in JSON', () => {
    const shape = {
      1: { name: 'partial', type: { 1: { name: 'rejected', type: 'signed' }, 2: { name: 'message', type: 'text' } } },
    } as const;
    expect(decodeMessage(encodePartialSuccess({ rejectedLogRecords: 3, errorMessage: 'no version' }), shape)).toEqual({
      partial: { rejected: 3n, message: 'no version' },
    });
    expect(
      decodeMessage(encodeStatus({ code: rpcCode(401), message: 'no key' }), {
        1: { name: 'code', type: 'signed' },
        2: { name: 'message', type: 'text' },
      }),
    ).toEqual({ code: 16n, message: 'no key' });
  });
});

describe('protobuf that is none', () => {
  const nested = (depth: number): Uint8Array => {
    let bytes = new Uint8Array();
    for (let level = 0; level < depth; level++)
      bytes = protobuf.Writer.create()
        .uint32(42)
        .bytes(protobuf.Writer.create().uint32(10).bytes(bytes).finish())
        .finish() as Uint8Array<ArrayBuffer>;
    return bytes;
  };

  it.each([
    ['a length beyond the end', Uint8Array.from([10, 127])],
    ['a number without an end', new Uint8Array(12).fill(255)],
    ['a group', Uint8Array.from([11, 12])],
  ])('%s is a typed problem', (_, bytes) => expect(() => decodeLogRecords(bytes)).toThrow(ProtobufProblem));

  it('values nested without end are a typed problem', () => {
    const value = nested(200);
    const body = protobuf.Writer.create()
      .uint32(10)
      .bytes(
        protobuf.Writer.create()
          .uint32(18)
          .bytes(protobuf.Writer.create().uint32(18).bytes(protobuf.Writer.create().uint32(42).bytes(value).finish()).finish())
          .finish(),
      )
      .finish();
    expect(() => decodeLogRecords(body)).toThrow(/nested more than/);
  });
});
