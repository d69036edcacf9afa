import { execFile } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { gzipSync } from 'node:zlib';
import { itemSchema } from '@rough-ember/core/report/item';
import { readStackTexts } from '@rough-ember/core/report/read-stack-texts';
import { durationBucket } from '@rough-ember/core/report/session-activity';
import { buildSync } from 'esbuild';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { durationBucket as ourBucket } from './activity';
import { describeError } from './describe-error';
import { fileStorage } from './file-storage';
import { type Collector, type CollectorOptions, routeName, startCollector } from './index';
import { Outbox } from './outbox';
import { memoryStorage } from './storage';
import { pathTemplate } from './trail';

/** A server that keeps what it is sent, and answers as it is told. */
let server: Server;
let address: string;
let received: Record<string, unknown>[] = [];
let answers: { status: number; headers?: Record<string, string> }[] = [];
let requests = 0;
beforeAll(async () => {
  server = createServer(async (request, response) => {
    requests++;
    let body = '';
    for await (const chunk of request) body += chunk;
    const { status, headers = {} } = answers.shift() ?? { status: 202 };
    if (status === 202) received.push(...body.split('\n').map((line) => JSON.parse(line)));
    response.writeHead(status, headers).end(status === 202 || status === 400 ? '{"items":[]}' : '{}');
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  address = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
});
afterAll(() => server.close());
beforeEach(() => {
  received = [];
  answers = [];
  requests = 0;
});

const running: Collector[] = [];
afterEach(() => Promise.all(running.splice(0).map((one) => one.stop())));
const start = (options: Partial<CollectorOptions> = {}): Collector => {
  const collector = startCollector({
    server: address,
    key: 'intake_test',
    version: '2.1.0',
    build: '211',
    storage: memoryStorage(),
    uncaught: false,
    ...options,
  });
  running.push(collector);
  return collector;
};
const reports = () => received.filter((item) => item.type === 'report');

describe('the collector', () => {
  it('sends a handled error with its causes, the trail, flags and the state at that moment, in the form the server takes', async () => {
    const collector = start({
      stateAtCrash: () => ({ zoom: 14, layers: ['night', 'tracks'] }),
      device: { model: 'OD-40' },
      os: { name: 'Android', version: '13' },
    });
    collector.screen('Map');
    collector.flag('night-map', 'on');
    collector.note('export', { rows: 12 });
    collector.attribute('feeders', 3);
    collector.report(new Error('camera is away', { cause: new TypeError('not a camera address') }), { attributes: { tries: 2 } });
    await collector.flush();
    for (const item of received) expect(itemSchema.safeParse(item).error?.issues ?? []).toEqual([]);
    const [sent] = reports();
    expect(sent).toMatchObject({
      kind: 'error',
      flags: { 'night-map': 'on' },
      attributes: { zoom: 14, layers: ['night', 'tracks'], feeders: 3, tries: 2 },
      exceptions: [
        { type: 'Error', message: 'camera is away', relation: 'thrown' },
        { type: 'TypeError', relation: 'cause', parent: 0 },
      ],
    });
    expect(((sent?.trail ?? []) as { kind: string }[]).map((event) => event.kind)).toEqual(['screen', 'flag', 'custom']);
    const parsed = itemSchema.parse(sent);
    if (parsed.type !== 'report') throw new Error('not a report');
    expect(readStackTexts(parsed).exceptions[0]?.frames[0]).toMatchObject({ runtime: 'javascript', line: expect.any(Number) });
  });

  it('tells of a session from its start to its end, the crash in it included', async () => {
    const collector = start();
    collector.report(new Error('gone'), { kind: 'crash' });
    await collector.stop();
    const sessions = received.filter((item) => item.type === 'session');
    expect(sessions.at(-1)).toMatchObject({ state: 'crashed' });
    expect(new Set(sessions.map((item) => item.id)).size).toBe(1);
    expect(reports()[0]?.sessionId).toBe(sessions[0]?.id);
  });

  it('counts the screens and requests of a session, however short the trail is', async () => {
    const original = globalThis.fetch;
    const statuses = [200, 503, 404];
    globalThis.fetch = ((input: RequestInfo | URL, init?: RequestInit) =>
      String(input).startsWith(address)
        ? original(input, init)
        : statuses.length > 0
          ? Promise.resolve(new Response('', { status: statuses.shift() as number }))
          : Promise.reject(new TypeError('away'))) as typeof fetch;
    try {
      const collector = start();
      for (let visit = 0; visit < 150; visit++) collector.screen(visit % 3 === 0 ? 'Map' : 'Nest');
      for (const id of ['7', '12', '90']) await fetch(`https://tiles.larkfield.example/t/${id}?of=day`);
      await fetch('https://tiles.larkfield.example/t/91').catch(() => {});
      await collector.stop();
      const last = received.filter((item) => item.type === 'session').at(-1);
      expect(itemSchema.safeParse(last).error?.issues ?? []).toEqual([]);
      expect(last).toMatchObject({
        screens: [
          { name: 'Map', visits: 50 },
          { name: 'Nest', visits: 100 },
        ],
        requests: [{ method: 'GET', host: 'tiles.larkfield.example', path: '/t/{number}', count: 4, failed: 3 }],
      });
      const [request] = (last?.requests ?? []) as { durations: { count: number }[] }[];
      expect(request?.durations.reduce((sum, one) => sum + one.count, 0)).toBe(4);
    } finally {
      globalThis.fetch = original;
    }
  });

  it('takes names of any length, none of which costs a report', async () => {
    const collector = start();
    for (const name of ['', 'Map'.repeat(200)]) collector.screen(name);
    collector.report(new Error('still told'));
    await collector.flush();
    for (const item of received) expect(itemSchema.safeParse(item).error?.issues ?? []).toEqual([]);
    expect(reports()[0]?.trail).toHaveLength(1);
  });

  it('tells the screens of a session that ended without telling', async () => {
    const storage = memoryStorage();
    const first = start({ storage });
    first.screen('Map');
    await first.flush();
    received = [];
    const second = start({ storage });
    await second.flush();
    expect(received.find((item) => item.state === 'ended')).toMatchObject({ screens: [{ name: 'Map', visits: 1 }] });
  });

  it('puts a duration into the bucket that the server reads', () => {
    for (const ms of [0, 1, 1.5, 3, 90, 812, 8_000, 90_000, 2 ** 41]) expect(ourBucket(ms)).toBe(durationBucket(ms));
  });

  it('keeps what could not be sent, and sends it at the next launch, once', async () => {
    const storage = memoryStorage();
    answers = Array.from({ length: 5 }, () => ({ status: 503 }));
    const first = start({ storage });
    first.report(new Error('lost?'));
    await first.flush();
    expect(reports()).toHaveLength(0);
    answers = [];
    const second = start({ storage });
    await second.flush();
    await second.flush();
    expect(reports()).toHaveLength(1);
    expect(second.installationId).toBe(first.installationId);
  });

  it('sends nothing more once it is stopped, and leaves what waits to the next launch', async () => {
    const storage = memoryStorage();
    answers = [{ status: 503 }];
    const first = start({ storage });
    first.report(new Error('waits'));
    await first.flush();
    await first.stop();
    await new Promise((resolve) => setTimeout(resolve, 1_500));
    expect(requests).toBe(1);
    await start({ storage }).flush();
    expect(reports()).toHaveLength(1);
  });

  it('waits as long as the server asks, and stops asking with a key that is refused', async () => {
    answers = [{ status: 429, headers: { 'retry-after': '60' } }];
    const limited = start();
    await limited.flush();
    await new Promise((resolve) => setTimeout(resolve, 600));
    expect(requests).toBe(1);
    answers = [{ status: 401 }];
    const refused = start();
    await refused.flush();
    refused.report(new Error('again'));
    await refused.flush();
    expect(requests).toBe(2);
  });

  it('is silent in debug builds unless asked', async () => {
    const silent = start({ buildType: 'debug' });
    silent.report(new Error('debugging'));
    await silent.flush();
    expect(requests).toBe(0);
    const asked = start({ buildType: 'debug', inDebugBuilds: true });
    asked.report(new Error('debugging'));
    await asked.flush();
    expect(reports()[0]).toMatchObject({ buildType: 'debug' });
  });

  it('samples by kind, and lets a hook change or drop what is sent; a hook that fails drops it', async () => {
    const sampled = start({ sample: { error: 0 } });
    sampled.report(new Error('sampled out'));
    sampled.report(new Error('a crash'), { kind: 'crash' });
    await sampled.flush();
    expect(reports().map((item) => item.kind)).toEqual(['crash']);
    // What was left out happened all the same.
    expect(received.filter((item) => item.type === 'session').at(-1)).toMatchObject({ errors: 1, state: 'crashed' });
    received = [];
    const halved = start({ sample: { error: 0.5 } });
    for (let at = 0; at < 64; at++) halved.report(new Error(`${at}`));
    await halved.flush();
    expect(new Set(reports().map((item) => item.samplePercent))).toEqual(new Set([50]));
    received = [];
    const hooked = start({
      beforeSend: (item) => {
        const text = JSON.stringify(item);
        if (text.includes('explode')) throw new Error('the hook failed');
        return text.includes('secret') ? null : { ...item, contact: 'nobody' };
      },
    });
    hooked.report(new Error('secret'));
    hooked.report(new Error('explode'));
    hooked.report(new Error('plain'));
    await hooked.flush();
    expect(reports().map((item) => item.contact)).toEqual(['nobody']);
  });

  it('wraps work: what it throws or rejects with is reported once and goes on to the caller', async () => {
    const collector = start();
    const failing = collector.wrap(async (feeder: string) => {
      throw new Error(`no ${feeder}`);
    });
    await expect(failing('hazel')).rejects.toThrow('no hazel');
    expect(() => collector.wrap(() => JSON.parse('{'))()).toThrow(SyntaxError);
    const error = new Error('twice');
    collector.report(error);
    collector.report(error);
    expect(collector.wrap((a: number, b: number) => a + b)(2, 3)).toBe(5);
    await collector.flush();
    expect(reports()).toHaveLength(3);
  });

  it('notes requests without query, and not its own', async () => {
    const collector = start();
    await fetch(`${address.replace('127.0.0.1', 'localhost')}/tiles/14/8211?token=secret`, { method: 'POST', body: '{}' }).catch(() => {});
    console.info('a quiet morning');
    collector.report(new Error('after'));
    await collector.flush();
    const trail = reports()[0]?.trail as { kind: string; path?: string; message?: string }[];
    expect(trail.filter((event) => event.kind === 'request')).toMatchObject([{ path: '/tiles/{number}/{number}', status: 202 }]);
    expect(trail.some((event) => event.message === 'a quiet morning')).toBe(true);
    expect(JSON.stringify(trail)).not.toContain('secret');
  });

  it('stays within its bounds, and gives up sessions and errors before crashes', () => {
    const storage = memoryStorage();
    const outbox = new Outbox(storage);
    outbox.add({ type: 'report', id: 'crash', kind: 'crash' });
    for (let index = 0; index < 400; index++) outbox.add({ type: 'report', id: `${index}`, kind: 'error', text: 'x'.repeat(5_000) });
    expect((storage.get('ember.outbox') as string).length).toBeLessThan(500_000);
    expect(new Outbox(storage).first(1)[0]?.id).toBe('crash');
  });

  it('survives storage that is full, and texts that are damaged', async () => {
    let room = 2_000;
    const small = memoryStorage();
    const storage = {
      get: small.get,
      set: (name: string, text: string) =>
        text.length > room
          ? (() => {
              throw new Error('full');
            })()
          : small.set(name, text),
    };
    const collector = start({ storage });
    room = 100;
    collector.report(new Error('no room'));
    await collector.flush();
    const damaged = memoryStorage();
    for (const name of ['ember.outbox', 'ember.session']) damaged.set(name, '{"half');
    start({ storage: damaged }).report(new Error('fine'));
  });

  it.each([
    [42, 'thrown value', '42'],
    ['the card is full', 'thrown value', 'the card is full'],
    [{ code: 7 }, 'thrown value', '{"code":7}'],
    [undefined, 'thrown value', 'undefined'],
    [Object.assign(new Error('x'), { name: 'AbortError' }), 'AbortError', 'x'],
  ])('describes what was thrown: %j', (value, type, message) => expect(describeError(value)[0]).toMatchObject({ type, message }));

  it('describes causes that go round in a circle, and the members of an aggregate', () => {
    const round = new Error('round');
    round.cause = round;
    expect(describeError(round)).toHaveLength(1);
    expect(describeError(new AggregateError([new RangeError('a'), new TypeError('b')])).map((one) => one.relation)).toEqual([
      'thrown',
      'cause',
      'suppressed',
    ]);
  });

  it.each([
    ['/birds/412/photos/9?token=x#top', '/birds/{number}/photos/{number}'],
    ['/u/0192d3a4-5b6c-4d7e-8f90-a1b2c3d4e5f6', '/u/{id}'],
  ])('makes a template of %s', (path, template) => expect(pathTemplate(path)).toBe(template));

  it('hears of uncaught errors from the global handler of a mobile host, and leaves the one before in place', async () => {
    const heard: unknown[] = [];
    let handler = (error: unknown, _isFatal?: boolean): void => void heard.push(error);
    const host = globalThis as { ErrorUtils?: object };
    host.ErrorUtils = {
      getGlobalHandler: () => handler,
      setGlobalHandler: (next: typeof handler) => {
        handler = next;
      },
    };
    const collector = start({ uncaught: true });
    handler(new TypeError('fatal'), true);
    handler(new RangeError('a red box'), false);
    delete host.ErrorUtils;
    await collector.flush();
    expect(reports().map((item) => item.kind)).toEqual(['crash', 'error']);
    expect(heard).toHaveLength(2);
  });

  it('hears of rejections from the engine of a mobile host', async () => {
    const host = globalThis as { ErrorUtils?: object; HermesInternal?: object };
    let onUnhandled = (_id: number, _reason: unknown): void => {};
    host.ErrorUtils = { getGlobalHandler: () => () => {}, setGlobalHandler: () => {} };
    host.HermesInternal = {
      enablePromiseRejectionTracker: (options: { onUnhandled: typeof onUnhandled }) => {
        onUnhandled = options.onUnhandled;
      },
    };
    const collector = start({ uncaught: true });
    onUnhandled(1, new TypeError('nobody waits'));
    delete host.ErrorUtils;
    delete host.HermesInternal;
    await collector.flush();
    expect(reports()[0]).toMatchObject({ kind: 'error', attributes: { 'javascript.unhandledRejection': true } });
  });

  it('lets its reports lie with those of the native side, which tells of the session', async () => {
    const session = { id: '2c5e28ba-2fa1-41d2-883f-0016d3cca427', installationId: '1b4e28ba-2fa1-41d2-883f-0016d3cca427' };
    const collector = start({ session });
    collector.report(new Error('no clip'), { kind: 'crash' });
    await collector.stop();
    expect(received.map((item) => item.type)).toEqual(['report']);
    expect(reports()[0]).toMatchObject({ sessionId: session.id, installationId: session.installationId });
    expect(collector.sessionId).toBe(session.id);
    expect(start().sessionId).toMatch(/^[0-9a-f-]{36}$/);
  });

  it('tells in which component an error happened', async () => {
    const collector = start();
    const componentStack = '\n    in ClipList (at Feeder.js:14)\n    in Feeder (created by App)\n    in App';
    collector.report(new TypeError('no clip'), { componentStack });
    await collector.flush();
    const parsed = itemSchema.parse(reports()[0]);
    if (parsed.type !== 'report') throw new Error('not a report');
    const read = readStackTexts(parsed);
    expect(read.exceptions[0]).toMatchObject({ type: 'TypeError', message: 'no clip' });
    expect(read.exceptions[0]?.frames.length).toBeGreaterThan(0);
    expect(read.threads[0]?.frames.map((frame) => ('function' in frame ? frame.function : ''))).toEqual(['ClipList', 'Feeder', 'App']);
  });

  it('names the screen of a navigator within a navigator', () => {
    const inner = { index: 1, routes: [{ name: 'List' }, { name: 'Clip' }] };
    expect(routeName({ index: 0, routes: [{ name: 'Feeder', state: inner }, { name: 'Settings' }] })).toBe('Clip');
    expect(routeName({ routes: [{ name: 'Start' }] })).toBe('Start');
    expect(routeName(undefined)).toBe('');
  });

  it('is small and needs nothing', () => {
    const { outputFiles } = buildSync({
      entryPoints: [fileURLToPath(new URL('./index.ts', import.meta.url))],
      bundle: true,
      minify: true,
      format: 'esm',
      write: false,
      target: 'es2020',
    });
    const bytes = gzipSync(outputFiles[0]?.contents as Uint8Array).length;
    expect(bytes).toBeLessThan(12 * 1024);
  });
});

describe('a Node program with the collector', () => {
  const folder = mkdtempSync(join(tmpdir(), 'ember-collector-'));
  afterAll(() => rmSync(folder, { recursive: true, force: true }));

  it('crashes, and the report arrives when it is started again', async () => {
    const source = fileURLToPath(new URL('.', import.meta.url));
    const program = join(folder, 'program.mjs');
    const entry = join(folder, 'entry.ts');
    writeFileSync(
      entry,
      `import { startCollector } from ${JSON.stringify(`${source}index.ts`)};
       import { fileStorage } from ${JSON.stringify(`${source}file-storage.ts`)};
       const [server, folder, crash] = process.argv.slice(2);
       const collector = startCollector({ server, key: 'intake_test', version: '1', build: '1', storage: fileStorage(folder) });
       if (crash) setTimeout(function openFeeder() { throw new TypeError('the feeder is empty'); }, 1);
       else collector.stop();`,
    );
    buildSync({ entryPoints: [entry], bundle: true, platform: 'node', format: 'esm', outfile: program });
    const run = (...args: string[]) =>
      new Promise<number>((resolve) => execFile(process.execPath, [program, ...args], (error) => resolve(error ? Number(error.code) : 0)));
    const data = join(folder, 'data');
    // The server is out of reach while it crashes.
    expect(await run('http://127.0.0.1:9', data, 'crash')).not.toBe(0);
    expect(existsSync(join(data, 'ember.outbox'))).toBe(true);
    expect(await run(address, data)).toBe(0);
    expect(await run(address, data)).toBe(0);
    expect(reports()).toHaveLength(1);
    expect(reports()[0]).toMatchObject({
      kind: 'crash',
      exceptions: [{ type: 'TypeError', message: 'the feeder is empty', stack: expect.stringContaining('openFeeder') }],
    });
    expect(received.filter((item) => item.type === 'session' && item.state === 'crashed')).toHaveLength(1);
    expect(JSON.parse(readFileSync(join(data, 'ember.outbox'), 'utf8'))).toEqual([]);
  });

  it('keeps its texts whole', () => {
    const storage = fileStorage(join(folder, 'texts'));
    storage.set('a', 'one');
    storage.set('a', 'two');
    expect([storage.get('a'), storage.get('b')]).toEqual(['two', null]);
  });
});
