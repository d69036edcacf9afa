import { execFile } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { buildSync } from 'esbuild';
import { afterAll, afterEach, beforeAll, beforeEach, expect, it, vi } from 'vitest';
import { elapsedMs } from './elapsed';
import { fileStorage } from './file-storage';
import { type Collector, type CollectorOptions, startCollector } from './index';
import type { Item } from './item';
import { Outbox } from './outbox';
import { Sender } from './sender';
import { memoryStorage } from './storage';

/** A server that takes what it is sent, or does what it is told instead. */
let server: Server;
let address: string;
let received: Item[] = [];
let instead: { status: number; body: string } | 'silence' | null = null;
beforeAll(async () => {
  server = createServer(async (request, response) => {
    let body = '';
    for await (const chunk of request) body += chunk;
    if (instead === 'silence') return;
    if (instead) return response.writeHead(instead.status, { 'content-type': 'text/html' }).end(instead.body);
    received.push(...body.split('\n').map((line) => JSON.parse(line)));
    return response.writeHead(202).end('{"items":[]}');
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  address = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
});
afterAll(() => {
  server.closeAllConnections();
  server.close();
});
beforeEach(() => {
  received = [];
  instead = null;
});
/** What a test started goes with it: else it would try again what it kept, in the middle of another test. */
const started: Pick<Collector, 'stop'>[] = [];
afterEach(async () => {
  vi.useRealTimers();
  instead = null;
  await Promise.all(started.splice(0).map((collector) => collector.stop()));
});

const folder = mkdtempSync(join(tmpdir(), 'ember-misfortune-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

function start(options: Partial<CollectorOptions> = {}): Collector {
  const collector = startCollector({
    server: address,
    key: 'intake_test',
    version: '2.1.0',
    build: '211',
    uncaught: false,
    storage: memoryStorage(),
    ...options,
  });
  started.push(collector);
  return collector;
}
const messages = () =>
  received.flatMap(({ type, exceptions }) => (type === 'report' ? [(exceptions as { message: string }[])[0]?.message] : [])).sort();

it('two processes of one app on one storage lose nothing of each other, and each knows what is sent', async () => {
  const storage = fileStorage(join(folder, 'shared'));
  const [one, other] = [new Outbox(storage), new Outbox(storage)];
  one.add({ type: 'report', id: 'a', kind: 'crash' });
  other.add({ type: 'report', id: 'b', kind: 'crash' });
  one.add({ type: 'report', id: 'c', kind: 'error' });
  const ids = (box: Outbox) =>
    box
      .first(9)
      .map(({ id }) => id)
      .sort();
  expect([ids(one), ids(other), ids(new Outbox(storage))]).toEqual([
    ['a', 'b', 'c'],
    ['a', 'b', 'c'],
    ['a', 'b', 'c'],
  ]);
  // Another process wrote what it had read before: what is ours is there all the same.
  storage.set('ember.outbox', '[]');
  expect([ids(one), ids(other)]).toEqual([['a', 'c'], ['b']]);
  one.remove(one.first(9));
  expect([one.size, ids(other)]).toEqual([0, ['b']]);
});

it('eight processes that crash at the same time on one folder lose hardly ever a crash, and never a text', async () => {
  const source = fileURLToPath(new URL('.', import.meta.url));
  const [program, entry, data] = [join(folder, 'program.mjs'), join(folder, 'entry.ts'), join(folder, 'many')] as const;
  writeFileSync(
    entry,
    `import { startCollector } from ${JSON.stringify(`${source}index.ts`)};
     import { fileStorage } from ${JSON.stringify(`${source}file-storage.ts`)};
     const [server, folder, name] = process.argv.slice(2);
     const collector = startCollector({ server, key: 'intake_test', version: '1', build: '1', storage: fileStorage(folder) });
     collector.report(new Error(name));
     collector.stop();`,
  );
  buildSync({ entryPoints: [entry], bundle: true, platform: 'node', format: 'esm', outfile: program });
  const run = (name: string) =>
    new Promise<number>((resolve) =>
      execFile(process.execPath, [program, address, data, name], (error) => resolve(error ? Number(error.code) : 0)),
    );
  const names = Array.from({ length: 8 }, (_, place) => `process ${place}`);
  expect(await Promise.all(names.map(run))).toEqual(names.map(() => 0));
  expect([...new Set(messages())]).toEqual(names);
});

it('what is taken for the server, such as the page of a hotel, takes nothing away', async () => {
  vi.spyOn(console, 'warn').mockImplementation(() => {});
  for (const answer of [
    { status: 200, body: '<html>Room number?</html>' },
    { status: 202, body: '' },
    { status: 400, body: '<html>Bad Request</html>' },
    { status: 204, body: '' },
    { status: 202, body: '{"items":7}' },
    { status: 502, body: 'null' },
  ]) {
    const storage = memoryStorage();
    instead = answer;
    start({ storage, sessions: false }).report(new Error('kept'));
    await vi.waitFor(() => expect(new Outbox(storage).size).toBe(1));
    const sender = senderOf(storage);
    await sender.now();
    expect([answer.status, new Outbox(storage).size]).toEqual([answer.status, 1]);
    instead = null;
    await senderOf(storage).now();
    expect(new Outbox(storage).size).toBe(0);
  }
});

const senderOf = (storage: ReturnType<typeof memoryStorage>, longestAnswerMs = 60_000): Sender => {
  const sender = new Sender({ outbox: new Outbox(storage), server: address, key: 'intake_test', fetch, tell: () => {}, longestAnswerMs });
  started.push(sender);
  return sender;
};

it('a server that never answers is given up, and what waits stays', async () => {
  const storage = memoryStorage();
  new Outbox(storage).add({ type: 'report', id: 'a', kind: 'crash' });
  instead = 'silence';
  await senderOf(storage, 50).now();
  expect(new Outbox(storage).size).toBe(1);
});

it('a clock that jumps back makes no session of negative length, and no pause of a day', async () => {
  vi.useFakeTimers({ toFake: ['Date'], now: new Date('2026-11-30T10:00:00Z') });
  const collector = start();
  vi.setSystemTime(new Date('2026-11-29T10:00:00Z'));
  collector.report(new Error('yesterday'), { kind: 'crash' });
  await collector.flush();
  const sessions = received.filter(({ type }) => type === 'session');
  expect(sessions.length).toBeGreaterThan(0);
  for (const { durationMs } of sessions) expect(durationMs).toBeGreaterThanOrEqual(0);
  expect(messages()).toEqual(['yesterday']);

  instead = { status: 503, body: '' };
  const storage = memoryStorage();
  new Outbox(storage).add({ type: 'report', id: 'a', kind: 'crash' });
  const sender = senderOf(storage);
  await sender.now();
  vi.setSystemTime(new Date('2020-01-01T00:00:00Z'));
  instead = null;
  const until = elapsedMs() + 20_000;
  while (new Outbox(storage).size > 0 && elapsedMs() < until) {
    await new Promise((resolve) => setTimeout(resolve, 50));
    await sender.now();
  }
  expect(new Outbox(storage).size).toBe(0);
});

it('a storage that fails at every touch, and a folder that cannot be had, are no trouble of the app', async () => {
  const broken = () => {
    throw new Error('SecurityError');
  };
  for (const storage of [{ get: broken, set: broken }, fileStorage('/dev/null/ember')]) {
    received = [];
    const collector = start({ storage });
    collector.screen('map');
    collector.report(new Error('sent from memory'), { kind: 'crash' });
    await collector.flush();
    expect(messages()).toEqual(['sent from memory']);
    await collector.stop();
  }
});

it('texts of any kind in the storage cost themselves alone', async () => {
  const damaged = ['', 'null', '{"half', '[null,1,"x",{}]', '[{"id":7}]', '{"items":[]}', '\u0000'.repeat(50), '[[[['];
  for (const text of damaged) {
    received = [];
    const storage = memoryStorage();
    for (const name of ['ember.outbox', 'ember.session', 'ember.installation']) storage.set(name, text);
    const collector = start({ storage });
    expect(collector.installationId).toMatch(/^[0-9a-f-]{36}$/);
    collector.report(new Error('fine'));
    await collector.flush();
    expect(messages()).toEqual(['fine']);
  }
});

it('a crash while a crash is described reports the first, and goes no further', async () => {
  vi.spyOn(console, 'warn').mockImplementation(() => {});
  const hostile = new Error('first');
  Object.defineProperty(hostile, 'cause', {
    get: () => {
      throw new Error('second');
    },
  });
  const collector = start({
    stateAtCrash: () => {
      collector.report(new Error('third'));
      throw new Error('fourth');
    },
  });
  expect(() => collector.report(hostile, { kind: 'crash' })).not.toThrow();
  await collector.flush();
  expect(messages()).toContain('first');
});
