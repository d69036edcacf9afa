import fc from 'fast-check';
import protobuf from 'protobufjs/minimal.js';
import { describe, expect, it } from 'vitest';
import { decodeMessage, ProtobufProblem } from '../bytes/protobuf.ts';
import { mendItem } from '../report/mend/mend-item.ts';
import { encodePartialSuccess, encodeStatus, partialSuccessJson, rpcCode } from './answers.ts';
import type { LogRecord } from './log-records.ts';
import * as records from './log-records.ts';
import { itemFromRecord } from './records-to-items.ts';

const about = {
  receivedAt: '2026-01-02T03:04:05.000Z',
  makeId: (text: string) => `0192d3a4-5b6c-4d7e-8f90-${text.length.toString(16).padStart(12, '0')}`,
};
const record = (attributes: Record<string, LogRecord['body']>, more: Partial<LogRecord> = {}): LogRecord => ({
  timeMs: 0,
  severity: 9,
  severityText: null,
  eventName: null,
  body: null,
  attributes: new Map(Object.entries(attributes).flatMap(([name, value]) => (value === null ? [] : [[name, value] as const]))),
  resource: new Map([['service.version', '2.1.0']]),
  ...more,
});
const itemOf = (from: ReturnType<typeof itemFromRecord>) => {
  if (from.as !== 'item') throw new Error(from.as);
  const mended = mendItem(from.item, { ...about, text: '' });
  if (!mended.ok) throw mended.error;
  return mended.item;
};

const most = 5_000;
const decodeLogRecords = (bytes: Uint8Array) => records.decodeLogRecords(bytes, most).records;
const parseLogRecords = (text: string) => records.parseLogRecords(text, most)?.records ?? null;

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
      map: { a: 1 },
    });
  });

  const attributeOf = (value: object): unknown => {
    const attributes = [{ key: 'it', value }];
    return parseLogRecords(JSON.stringify({ resourceLogs: [{ scopeLogs: [{ logRecords: [{ attributes }] }] }] }))?.[0]?.attributes.get(
      'it',
    );
  };
  const named = (value: object) => ({
    kvlistValue: { values: [{ key: 'in', value }, { value: { boolValue: true } }, { key: 'none', value: {} }] },
  });

  it('keep named values within each other', () => {
    expect(attributeOf(named(named({ stringValue: 'a "nest"' })))).toEqual({ in: { in: 'a "nest"' } });
    expect(attributeOf({ arrayValue: { values: [named({ intValue: '7' }), { arrayValue: { values: [{ intValue: 8 }] } }, {}] } })).toEqual([
      { in: 7 },
      [8],
    ]);
    expect(attributeOf({ arrayValue: {} })).toEqual([]);
    expect(attributeOf({ kvlistValue: {} })).toEqual({});
  });

  it('leave out what lies too deep, and cost no more than they are long', () => {
    const levels = 20_000;
    const value = '{"arrayValue":{"values":[{"kvlistValue":{"values":[{"key":"in","value":';
    const text = `{"resourceLogs":[{"scopeLogs":[{"logRecords":[{"attributes":[{"key":"it","value":${value.repeat(levels)}{"stringValue":"deep"}${'}]}}]}}'.repeat(levels)}}]}]}]}]}`;
    const [read] = parseLogRecords(text) ?? [];
    expect(JSON.stringify(read?.attributes.get('it')).slice(1, -1)).toMatch(/^\{"in":\[\{"in":.{20,200}$/);
  });

  it.each([
    [{ intValue: '-9223372036854775808' }, '-9223372036854775808'],
    [{ intValue: -7 }, -7],
    [{ intValue: 'many' }, undefined],
    [{ intValue: 1.5 }, undefined],
    [{ doubleValue: 'NaN' }, 'NaN'],
    [{ stringValue: '' }, ''],
    [{ stringValue: null, boolValue: true }, true],
  ])('have %j as %j', (value, read) => expect(attributeOf(value)).toBe(read));

  it('have the time of their making, or else when they were seen', () => {
    const timeOf = (record: object) =>
      parseLogRecords(JSON.stringify({ resourceLogs: [{ scopeLogs: [{ logRecords: [record] }] }] }))?.[0]?.timeMs;
    expect(timeOf({ timeUnixNano: 1_500_000, observedTimeUnixNano: '9000000' })).toBe(1);
    expect(timeOf({ timeUnixNano: '0', observedTimeUnixNano: '9000000' })).toBe(9);
    expect(timeOf({ timeUnixNano: -5, observedTimeUnixNano: 'late' })).toBe(0);
  });

  it('say the same in protobuf', () => {
    const root = protobuf.Writer.create;
    type Value = string | number | boolean | Value[] | { [key: string]: Value };
    const json = (value: Value): object => {
      if (Array.isArray(value)) return { arrayValue: { values: value.map(json) } };
      if (typeof value === 'object')
        return { kvlistValue: { values: Object.entries(value).map(([key, inner]) => ({ key, value: json(inner) })) } };
      if (typeof value === 'number') return Number.isInteger(value) ? { intValue: String(value) } : { doubleValue: value };
      return typeof value === 'string' ? { stringValue: value } : { boolValue: value };
    };
    const pair = (key: string, value: Value): Uint8Array => root().uint32(10).string(key).uint32(18).bytes(binary(value)).finish();
    const binary = (value: Value): Uint8Array => {
      const writer = root();
      if (Array.isArray(value)) {
        const list = root();
        for (const one of value) list.uint32(10).bytes(binary(one));
        writer.uint32(42).bytes(list.finish());
      } else if (typeof value === 'object') {
        const pairs = root();
        for (const [key, inner] of Object.entries(value)) pairs.uint32(10).bytes(pair(key, inner));
        writer.uint32(50).bytes(pairs.finish());
      } else if (typeof value === 'number') Number.isInteger(value) ? writer.uint32(24).int64(value) : writer.uint32(33).double(value);
      else typeof value === 'string' ? writer.uint32(10).string(value) : writer.uint32(16).bool(value);
      return writer.finish();
    };
    const scalar = fc.oneof(fc.string({ maxLength: 6 }), fc.integer(), fc.boolean(), fc.constantFrom(0.5, -2.25, 1e-300));
    const key = fc.stringMatching(/^[a-z]{1,5}$/);
    const { value } = fc.letrec<{ value: Value }>((tie) => ({
      value: fc.oneof(
        { maxDepth: 3, withCrossShrink: true },
        scalar,
        fc.array(tie('value'), { maxLength: 3 }),
        fc.dictionary(key, tie('value'), { maxKeys: 3, noNullPrototype: true }),
      ),
    }));
    fc.assert(
      fc.property(fc.dictionary(key, value, { maxKeys: 4, noNullPrototype: true }), (attributes) => {
        const record = root().uint32(9).fixed64(1_767_323_045_000_000_000).uint32(16).uint32(17);
        for (const [name, one] of Object.entries(attributes)) record.uint32(50).bytes(pair(name, one));
        record.uint32(98).string('device.crash');
        const scope = root().uint32(18).bytes(record.finish()).finish();
        const group = root().uint32(18).bytes(scope).finish();
        const told = {
          timeUnixNano: '1767323045000000000',
          severityNumber: 17,
          eventName: 'device.crash',
          attributes: Object.entries(attributes).map(([name, one]) => ({ key: name, value: json(one) })),
        };
        const request = JSON.stringify({ resourceLogs: [{ scopeLogs: [{ logRecords: [told] }] }] });
        expect(decodeLogRecords(root().uint32(10).bytes(group).finish())).toEqual(parseLogRecords(request));
      }),
    );
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

  it.each<[attributes: Record<string, LogRecord['body']>, known: object]>([
    [{ 'network.connection.type': 'wifi' }, { network: 'wifi' }],
    [{ 'network.connection.type': 'unavailable' }, { network: 'none' }],
    [{ 'network.connection.type': 'satellite' }, { network: 'other' }],
    [{ 'geo.country.iso_code': 'Norway' }, { country: null }],
    [{ 'os.type': 'linux' }, { os: { name: 'linux', version: '', build: null } }],
    [{ 'os.name': 'Android', 'os.type': 'linux', 'os.build_id': 'UP1A' }, { os: { name: 'Android', build: 'UP1A' } }],
    [{ 'device.model.name': 'Tarn Go 3', 'device.manufacturer': 'Tarn' }, { device: { model: 'Tarn Go 3', manufacturer: 'Tarn' } }],
    [{ 'deployment.environment': 'production' }, { buildType: 'release' }],
    [{ 'deployment.environment': 'staging' }, { buildType: 'staging' }],
    [{ 'enduser.id': 'wren' }, { personId: 'wren' }],
    [{ 'user.id': 'owl', 'enduser.id': 'wren' }, { personId: 'owl' }],
    [{ 'session.id': '2C5E28BA-2FA1-41D2-883F-0016D3CCA427' }, { sessionId: '2C5E28BA-2FA1-41D2-883F-0016D3CCA427' }],
    [{ 'session.id': 'morning' }, { sessionId: expect.stringMatching(/^0192d3a4-/) }],
    [{ 'exception.message': ['no', 'perch'] }, { exceptions: [{ type: 'X', message: 'no, perch' }] }],
    [
      { weights: [1, 'two', ['three'], true] },
      { attributes: { 'weights[0]': 1, 'weights[1]': 'two', 'weights[2]': ['three'], 'weights[3]': true } },
    ],
    [{ game: { moves: [{ piece: 'n' }] } }, { attributes: { 'game.moves[0].piece': 'n' } }],
    [{ note: 'n'.repeat(5_000) }, { attributes: { note: `${'n'.repeat(4_095)}…` } }],
    [{ share: Number.NaN, count: 3, is: false }, { attributes: { share: 'NaN', count: 3, is: false } }],
  ])('%j as %j', (attributes, known) => {
    expect(itemOf(itemFromRecord(record({ 'exception.type': 'X', ...attributes }), about))).toMatchObject(known);
  });

  it('a report of when it happened, and of when it arrived where the time is none', () => {
    const at = (timeMs: number) => itemOf(itemFromRecord(record({ 'exception.type': 'X' }, { timeMs }), about));
    expect(at(1_767_323_045_000)).toMatchObject({ occurredAt: '2026-01-02T03:04:05.000Z' });
    expect(at(9e15)).toMatchObject({ occurredAt: about.receivedAt });
  });

  it('a report that keeps the body beside the message, unless it says the same', () => {
    const sections = (body: LogRecord['body']) => {
      const item = itemOf(itemFromRecord(record({ 'exception.message': 'no perch' }, { body }), about));
      return item.type === 'report' ? item.sections.map(({ name, text }) => [name, text]) : null;
    };
    expect(sections('while drawing')).toEqual([['Body of the log record', 'while drawing']]);
    expect(sections('no perch')).toEqual([]);
    expect(sections(['no', 'perch'])).toEqual([]);
  });

  it('no more attributes than a report may have, those of the record before those of the resource', () => {
    const many = Object.fromEntries(Array.from({ length: 99 }, (_, at) => [`attribute.${at}`, at]));
    const resource = new Map<string, string>([
      ['service.version', '2.1.0'],
      ['attribute.0', 'of the resource'],
      ['first', '1'],
      ['second', '2'],
    ]);
    const item = itemOf(itemFromRecord(record({ 'exception.type': 'X', ...many }, { resource }), about));
    expect(Object.keys(item.type === 'report' ? item.attributes : {})).toHaveLength(100);
    expect(item).toMatchObject({ attributes: { 'attribute.0': 0, first: '1' } });
  });

  it('an event of the session that it names', () => {
    const at = '2026-01-02T03:04:05.000Z';
    const session = { 'session.id': '2c5e28ba-2fa1-41d2-883f-0016d3cca427' };
    expect(itemFromRecord(record(session, { body: 'tile loaded', severity: 13 }), about)).toEqual({
      as: 'trail',
      sessionId: session['session.id'],
      event: { kind: 'log', at, level: 'warn', message: 'tile loaded' },
    });
    expect(itemFromRecord(record({ ...session, layer: 'night' }, { eventName: 'map.shown' }), about)).toMatchObject({
      event: { kind: 'custom', at, name: 'map.shown', attributes: { layer: 'night' } },
    });
  });

  it.each([
    ['neither an exception', record({ 'http.route': '/tiles' })],
    ['service.version', record({ 'exception.type': 'X' }, { resource: new Map() })],
    ['session.id', record({}, { eventName: 'session.start' })],
  ])('nothing, and why: %s', (reason, one) =>
    expect(itemFromRecord(one, about)).toMatchObject({
      as: expect.stringMatching(/^(refused|passed-over)$/),
      reason: expect.stringContaining(reason),
    }),
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
