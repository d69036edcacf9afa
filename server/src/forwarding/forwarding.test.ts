import { randomUUID } from 'node:crypto';
import { createServer, type IncomingHttpHeaders } from 'node:http';
import { setTimeout as pause } from 'node:timers/promises';
import { type LogRecord, parseLogRecords } from '@rough-ember/core/otlp/log-records';
import { findForward, keepForward } from '@rough-ember/store/forwards';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { startTestServer, type TestServer } from '../testing/test-server.ts';
import { forwardDue } from './forward-items.ts';
import { changeForward, givenForwardSchema, loadForward } from './forward-settings.ts';

interface Received {
  readonly headers: IncomingHttpHeaders;
  readonly records: readonly LogRecord[];
}

let server: TestServer;
let received: Received[] = [];
/** What the receiver answers to so many records. */
let answer: (records: readonly LogRecord[]) => { status: number; body?: object } = () => ({ status: 200 });
const receiver = createServer(async (request, response) => {
  let text = '';
  for await (const chunk of request) text += chunk;
  const records = parseLogRecords(text, 1_000)?.records ?? [];
  const { status, body = {} } = answer(records);
  if (status === 200) received.push({ headers: request.headers, records });
  response.writeHead(status, { 'content-type': 'application/json' }).end(JSON.stringify(body));
});

const owner = { by: 'ines@larkfield.example', role: 'owner' } as const;
const address = () => `http://127.0.0.1:${(receiver.address() as { port: number }).port}/v1/logs`;
const forwardTo = (more: object = {}) =>
  changeForward(
    server.services,
    server.app,
    { address: address(), headerName: 'authorization', headerValue: 'Bearer letmein', mayReachPrivate: true, ...more },
    owner,
  );
const about = { version: '4.3.0', build: '430', installationId: randomUUID() };
const crash = (message: string) => ({
  ...{ type: 'report', id: randomUUID(), kind: 'crash', occurredAt: new Date().toISOString(), ...about },
  exceptions: [{ type: 'java.lang.Error', message, stack: `java.lang.Error: ${message}\n\tat com.larkfield.Map.draw(Map.java:3)` }],
});
const session = (sequence: number, state: string, id = randomUUID()) => ({
  ...{
    type: 'session',
    id,
    sequence,
    state,
    at: new Date().toISOString(),
    startedAt: new Date(Date.now() - 60_000).toISOString(),
    ...about,
  },
});
const messages = () => received.flatMap(({ records }) => records.map((one) => one.attributes.get('exception.message') ?? one.eventName));
/** Until nothing waits any more, or as often as that takes. */
async function forwarded() {
  for (let attempt = 0; attempt < 200; attempt++) {
    await forwardDue(server.services, new Date());
    const state = await findForward(server.database, server.app.id);
    if (state?.waiting === 0) return state;
    await pause(20);
  }
  throw new Error('something still waits to be forwarded');
}

beforeAll(async () => {
  await new Promise<void>((done) => receiver.listen(0, '127.0.0.1', done));
  server = await startTestServer();
});
afterAll(async () => {
  await server.stop();
  receiver.close();
});
beforeEach(() => {
  received = [];
  answer = () => ({ status: 200 });
});

describe('forwarding', () => {
  it('begins when it is asked for: what was there before is not sent', async () => {
    await server.sendItems([crash('before')]);
    await forwardTo();
    expect((await forwarded()).sent).toBe(0);
  });

  it('tells each report once it is readable, with its case, and where sessions begin and end', async () => {
    const id = randomUUID();
    await server.sendItems([crash('no perch'), session(0, 'open', id), session(1, 'open', id)]);
    await server.sendItems([session(2, 'ended', id)]);
    const { sent, problem } = await forwarded();
    expect({ sent, problem, told: messages().sort() }).toEqual({
      sent: 3,
      problem: null,
      told: ['no perch', 'session.end', 'session.start'],
    });
    const [report] = received.flatMap(({ records }) => records.filter((one) => one.attributes.has('exception.message')));
    expect(report?.attributes.get('rough_ember.case')).toMatch(/^LG-\d+$/);
    expect(report?.attributes.get('exception.stacktrace')).toContain('com.larkfield.Map.draw');
    expect(report?.resource.get('service.version')).toBe('4.3.0');
    expect(received[0]?.headers.authorization).toBe('Bearer letmein');
  });

  it('waits while the receiver is away, and says why', async () => {
    answer = () => ({ status: 503, body: { message: 'closed for the night' } });
    await server.sendItems([crash('at night')]);
    await expect
      .poll(async () => {
        await forwardDue(server.services, new Date());
        return (await loadForward(server.services, server.app, 'owner')).forward?.problem;
      })
      .toContain('closed for the night');
    const { forward } = await loadForward(server.services, server.app, 'owner');
    expect(forward).toMatchObject({ waiting: 1, hasSecret: true });
    expect(JSON.stringify(forward)).not.toContain('letmein');
    expect((await loadForward(server.services, server.app, 'viewer')).forward?.address).toBe(new URL(address()).origin);
    // Nobody hammers at a closed door.
    expect(await forwardDue(server.services, new Date())).toBe(0);
    answer = () => ({ status: 200 });
    await server.database('forwards').update({ next_try_at: new Date() });
    expect(await forwarded()).toMatchObject({ waiting: 0, problem: null, attempts: 0 });
    expect(messages()).toEqual(['at night']);
  });

  it('finds the one record that the receiver does not take, and lets the others through', async () => {
    answer = (records) => ({ status: records.some((one) => one.attributes.get('exception.message') === 'bad 7') ? 400 : 200 });
    await server.sendItems(Array.from({ length: 12 }, (_, at) => crash(`bad ${at}`)));
    const { refused, problem } = await forwarded();
    expect({ refused, problem, told: messages().length }).toEqual({ refused: 1, problem: expect.stringContaining('400'), told: 11 });
  });

  it('knows what a partial success leaves out', async () => {
    const { refused } = await forwarded();
    answer = () => ({ status: 200, body: { partialSuccess: { rejectedLogRecords: '1', errorMessage: 'too old' } } });
    await server.sendItems([crash('partly')]);
    expect(await forwarded()).toMatchObject({ refused: refused + 1, problem: 'too old' });
  });

  it('takes no header that belongs to the request itself', () => {
    for (const headerName of ['Host', 'content-length', 'Transfer-Encoding', 'a b', ''])
      expect([headerName, givenForwardSchema.safeParse({ address: address(), headerName }).success]).toEqual([headerName, false]);
    expect(givenForwardSchema.safeParse({ address: address(), headerName: 'x-api-key' }).success).toBe(true);
  });

  it('is done by one process at a time, and by another where that one is gone', async () => {
    await server.sendItems([crash('whose?')]);
    await forwarded();
    received = [];
    await server.sendItems([crash('mine?')]);
    const now = new Date();
    await Promise.all(Array.from({ length: 4 }, () => forwardDue(server.services, now)));
    await forwarded();
    expect(messages()).toEqual(['mine?']);
    await server.database('forwards').update({ leased_until: new Date(Date.now() + 60_000) });
    await server.sendItems([crash('later')]);
    expect(await forwardDue(server.services, new Date())).toBe(0);
    await server.database('forwards').update({ leased_until: new Date(Date.now() - 1) });
    await forwarded();
    expect(messages()).toEqual(['mine?', 'later']);
  });

  it('leads into the network of the server when an owner says so, and a secret goes nowhere else than where it was given for', async () => {
    const given = { address: address(), headerName: null, headerValue: null, mayReachPrivate: true };
    await expect(changeForward(server.services, server.app, given, { by: 'x', role: 'developer' })).rejects.toThrow('Only an owner');
    const before = await findForward(server.database, server.app.id);
    if (before) await keepForward(server.database, server.app.id, { ...before, mayReachPrivate: false }, new Date());
    await server.sendItems([crash('inside')]);
    await forwardDue(server.services, new Date());
    await expect
      .poll(async () => {
        await forwardDue(server.services, new Date());
        return (await findForward(server.database, server.app.id))?.problem;
      })
      .toContain('network of this server');
    await forwardTo({ address: `${address()}/elsewhere`, headerValue: undefined });
    expect((await findForward(server.database, server.app.id))?.headerValue).toBeNull();
    await forwarded();
    expect(received.at(-1)?.headers.authorization).toBeUndefined();
  });
});
