import { randomUUID } from 'node:crypto';
import { SeverityNumber } from '@opentelemetry/api-logs';
import { OTLPLogExporter as JsonExporter } from '@opentelemetry/exporter-logs-otlp-http';
import { OTLPLogExporter as ProtobufExporter } from '@opentelemetry/exporter-logs-otlp-proto';
import { CompressionAlgorithm } from '@opentelemetry/otlp-exporter-base';
import { Resource } from '@opentelemetry/resources';
import { BatchLogRecordProcessor, LoggerProvider } from '@opentelemetry/sdk-logs';
import { decodeLogRecords } from '@rough-ember/core/otlp/log-records';
import { listIntakeLog } from '@rough-ember/store/intake-log';
import { findReport } from '@rough-ember/store/reports';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { forgetPerson } from '../desk/person.ts';
import { loadSession } from '../stability/sessions.ts';
import { startTestServer, type TestServer } from '../testing/test-server.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(() => server.stop());

const resource = new Resource({
  'service.name': 'feeder-cam',
  'service.version': '2.1.0',
  'app.build_id': '211',
  'deployment.environment.name': 'production',
  'os.name': 'iOS',
  'os.version': '17.5.1',
  'device.manufacturer': 'Apple',
  'device.model.identifier': 'iPhone14,2',
});

/** A real exporter pointed at the server; `end` sends what was emitted. */
function exporter(encoding: 'json' | 'protobuf', { key = server.intakeKey, gzip = true } = {}) {
  const url = `${server.address}/v1/logs`;
  const headers = { authorization: `Bearer ${key}` };
  const compression = gzip ? CompressionAlgorithm.GZIP : CompressionAlgorithm.NONE;
  const real = encoding === 'json' ? new JsonExporter({ url, headers, compression }) : new ProtobufExporter({ url, headers, compression });
  const provider = new LoggerProvider({ resource });
  provider.addLogRecordProcessor(new BatchLogRecordProcessor(real));
  return { logger: provider.getLogger('feeder'), end: () => provider.shutdown() };
}

const heardAt = Date.now() - 3_600_000;
const nanoseconds = (ms: number) => `${ms}000000`;

const thrown = (() => {
  try {
    return (undefined as unknown as { cuts: number[] }).cuts.length;
  } catch (error) {
    return error as Error;
  }
})() as Error;

const lastLogged = async () => (await listIntakeLog(server.database, { appId: server.app.id, strangers: true, limit: 1 }))[0];

describe.each(['json', 'protobuf'] as const)('a real OpenTelemetry exporter, %s', (encoding) => {
  it.each([true, false])('delivers exceptions and sessions, compressed: %s', async (gzip) => {
    const sessionId = crypto.randomUUID();
    const uid = crypto.randomUUID();
    const { logger, end } = exporter(encoding, { gzip });
    logger.emit({ attributes: { 'event.name': 'session.start', 'session.id': sessionId } });
    logger.emit({
      severityNumber: SeverityNumber.FATAL,
      body: 'the clip list went away',
      attributes: {
        'log.record.uid': uid,
        'session.id': sessionId,
        'exception.type': thrown.name,
        'exception.message': thrown.message,
        'exception.stacktrace': thrown.stack as string,
        'user.id': 'warden-7',
        feeders: ['hazel', 'oak'],
        visits: 12,
      },
    });
    logger.emit({ attributes: { 'event.name': 'session.end', 'session.id': sessionId } });
    await end();

    const found = await findReport(server.database, server.app.id, uid);
    expect(found?.report).toMatchObject({
      kind: 'crash',
      version: '2.1.0',
      build: '211',
      buildType: 'release',
      os: { name: 'iOS', version: '17.5.1' },
      device: { manufacturer: 'Apple', model: 'iPhone14,2' },
      personId: 'warden-7',
      sessionId,
      attributes: { feeders: ['hazel', 'oak'], visits: 12, 'service.name': 'feeder-cam' },
      sections: [{ name: 'Body of the log record', text: 'the clip list went away' }],
    });
    expect(found?.report.exceptions[0]).toMatchObject({ type: 'TypeError', message: thrown.message });
    expect(found?.report.exceptions[0]?.frames[0]).toMatchObject({ runtime: 'javascript', line: expect.any(Number) });
    const row = await server
      .database('sessions')
      .where({ session_id: Buffer.from(sessionId.replaceAll('-', ''), 'hex') })
      .first('state', 'started', 'version');
    expect(row).toEqual({ state: 'crashed', started: 1, version: '2.1.0' });
    expect(await lastLogged()).toMatchObject({ accepted: 3, refused: 0, keyName: 'phones' });
  });

  it('sends a record again without making another report', async () => {
    const count = async () => Number((await server.database('reports').count({ count: '*' }))[0]?.count);
    const at = new Date();
    const send = async () => {
      const { logger, end } = exporter(encoding);
      logger.emit({
        timestamp: at,
        observedTimestamp: at,
        attributes: { 'exception.type': 'RangeError', 'exception.message': 'no frame 90' },
      });
      await end();
    };
    const before = await count();
    await send();
    await send();
    // Each encoding gives the same record the same id, too.
    expect(await count()).toBe(before + 1);
  });
});

describe('OTLP as its specification says', () => {
  const record = (attributes: Record<string, string>, more: object = {}) => ({
    attributes: Object.entries(attributes).map(([key, value]) => ({ key, value: { stringValue: value } })),
    timeUnixNano: nanoseconds(heardAt),
    ...more,
  });
  const send = (
    logRecords: object[],
    { version = '2.1.0', headers = {} }: { version?: string | null; headers?: Record<string, string> } = {},
  ) =>
    fetch(`${server.address}/v1/logs`, {
      method: 'POST',
      headers: { authorization: `Bearer ${server.intakeKey}`, 'content-type': 'application/json', ...headers },
      body: JSON.stringify({
        resourceLogs: [{ resource: record(version === null ? {} : { 'service.version': version }), scopeLogs: [{ logRecords }] }],
      }),
    });

  it('passes over what is nothing of an app, and says so in the log alone', async () => {
    const answer = await send([record({ 'exception.type': 'RangeError' }), record({ 'http.route': '/tiles' })]);
    expect([answer.status, await answer.json()]).toEqual([200, {}]);
    expect(await lastLogged()).toMatchObject({ status: 202, accepted: 1, passedOver: 1, refused: 0 });
  });

  it('keeps what happened in a session for its timeline, once', async () => {
    const sessionId = '2c5e28ba-2fa1-41d2-883f-0016d3cca427';
    const event = {
      ...record({ 'session.id': sessionId }),
      body: { stringValue: 'tile of wren@larkfield.example loaded' },
      timeUnixNano: nanoseconds(heardAt),
    };
    const start = { ...record({ 'session.id': sessionId, 'event.name': 'session.start' }), timeUnixNano: nanoseconds(heardAt - 5_000) };
    for (let time = 0; time < 2; time++) expect(await (await send([start, event])).json()).toEqual({});
    const { moments, hasTrail } = await loadSession(server.services, server.app, sessionId, new Date());
    expect(hasTrail).toBe(true);
    expect(moments.filter((one) => one.type === 'event')).toEqual([
      {
        type: 'event',
        at: new Date(heardAt).toISOString(),
        event: { kind: 'log', at: new Date(heardAt).toISOString(), level: 'info', message: 'tile of [removed: mail address] loaded' },
      },
    ]);
  });

  it('forgets what a session of somebody told by the way when they are forgotten', async () => {
    const sessionId = randomUUID();
    const of = (attributes: Record<string, string>) => record({ 'session.id': sessionId, 'user.id': 'warden-9', ...attributes });
    await send([of({ 'event.name': 'session.start' }), { ...of({}), body: { stringValue: 'saw a wren' } }]);
    const trail = () => server.database('session_trails').where({ session_id: Buffer.from(sessionId.replaceAll('-', ''), 'hex') });
    expect(await trail()).toHaveLength(1);
    await forgetPerson(server.services, server.app, 'warden-9');
    expect(await trail()).toEqual([]);
  });

  it('tells what was changed as a warning that rejects nothing', async () => {
    const answer = await send([record({ 'exception.type': 'T'.repeat(3_000) })]);
    expect(await answer.json()).toEqual({
      partialSuccess: { rejectedLogRecords: '0', errorMessage: expect.stringContaining('clipped to 1024') },
    });
  });

  it('counts records beyond the limit as rejected, and takes the others', async () => {
    const answer = await send(Array.from({ length: 6_000 }, (_, at) => record({ 'exception.type': 'RangeError', at: String(at) })));
    expect(await answer.json()).toEqual({
      partialSuccess: { rejectedLogRecords: '1000', errorMessage: expect.stringContaining('at most 5000') },
    });
    expect(await lastLogged()).toMatchObject({ accepted: 5_000, refused: 1_000 });
  });

  it('rejects records of no version with the attribute that is missing', async () => {
    const answer = await (await send([record({ 'exception.type': 'RangeError' })], { version: null })).json();
    expect(answer.partialSuccess.errorMessage).toContain('service.version');
  });

  it.each([
    ['no key', { authorization: '' }, 401, 16],
    ['another content type', { 'content-type': 'text/plain' }, 415, 3],
    ['an unknown encoding', { 'content-encoding': 'br' }, 415, 3],
  ])('answers %s with a status message', async (_, headers, status, code) => {
    const answer = await send([], { headers });
    expect([answer.status, (await answer.json()).code]).toEqual([status, code]);
  });

  it('answers in protobuf what was sent in protobuf', async () => {
    const post = (body: Uint8Array, key = server.intakeKey) =>
      fetch(`${server.address}/v1/logs`, {
        method: 'POST',
        body: body as BodyInit,
        headers: { authorization: `Bearer ${key}`, 'content-type': 'application/x-protobuf' },
      });
    const bad = await post(new Uint8Array([255, 255, 255]));
    expect([bad.status, bad.headers.get('content-type')]).toEqual([400, 'application/x-protobuf']);
    expect(new TextDecoder().decode(await bad.arrayBuffer())).toContain('no OTLP ExportLogsServiceRequest');
    const empty = await post(new Uint8Array());
    expect([empty.status, (await empty.arrayBuffer()).byteLength]).toEqual([200, 0]);
  });

  it('reads any bytes without losing its head', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 300 }), (bytes) => {
        try {
          decodeLogRecords(bytes, 100);
        } catch (error) {
          expect((error as Error).constructor.name).toBe('ProtobufProblem');
        }
      }),
      { numRuns: 2_000 },
    );
  });
});
