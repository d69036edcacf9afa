import { execFileSync, spawn } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readdirSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { fileURLToPath } from 'node:url';
import { type Item, itemSchema } from '@rough-ember/core/report/item';
import { buildSync } from 'esbuild';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest';

/** What every client does in the same situations: the one list that all of them are held to. */

const collectors = fileURLToPath(new URL('../collector/', import.meta.url));
const folder = mkdtempSync(join(tmpdir(), 'ember-conformance-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** A client with a program that does what a situation asks. */
interface Client {
  readonly name: string;
  readonly isHere: boolean;
  build(): void;
  readonly command: readonly string[];
}

const javaFolder = join(folder, 'java');
const clients: readonly Client[] = [
  {
    name: 'JavaScript',
    isHere: true,
    build: () =>
      buildSync({
        entryPoints: [join(collectors, 'testing/situations.ts')],
        outfile: join(folder, 'situations.mjs'),
        bundle: true,
        platform: 'node',
        format: 'esm',
        define: { __VERSION__: '"test"' },
      }),
    command: [process.execPath, join(folder, 'situations.mjs')],
  },
  {
    name: 'the JVM',
    isHere: existsSync('/usr/bin/javac'),
    build: () => {
      mkdirSync(javaFolder);
      const files = ['EmberReporter.java', 'testing/Situations.java'].map((name) => join(collectors, 'java', name));
      execFileSync('javac', ['-nowarn', '-d', javaFolder, ...files], { stdio: 'pipe' });
    },
    command: ['java', '-XX:TieredStopAtLevel=1', '-cp', javaFolder, 'Situations'],
  },
  {
    name: '.NET',
    isHere: existsSync('/usr/bin/mcs') && existsSync('/usr/bin/mono'),
    build: () => {
      const files = ['EmberReporter.cs', 'testing/Situations.cs'].map((name) => join(collectors, 'dotnet', name));
      execFileSync('mcs', ['-langversion:latest', ...files, `-out:${join(folder, 'Situations.exe')}`]);
    },
    command: ['mono', join(folder, 'Situations.exe')],
  },
];

/** How a server answers: as ours does, or as what may stand in its place. */
type Manner = 'up' | 'down' | 'silent-loss' | 'hotel' | 401 | 429 | 500 | 'one-at-a-time';

let server: Server;
let manner: Manner = 'up';
let requests = 0;
/** What a client sent that the protocol does not have. */
let faults: string[] = [];
/** Every item that a server like ours would have stored, as often as it came. */
let stored: Item[] = [];

/** An item as the protocol has it; null where a file of the client was damaged. Anything else that is no item is a fault of the client. */
function readItem(line: string): Item | null {
  let told: unknown;
  try {
    told = JSON.parse(line);
  } catch {
    return null;
  }
  return itemSchema.parse(told);
}

function answer(response: ServerResponse, body: string): void {
  const lines = body.split('\n').filter(Boolean);
  const refuse = (status: number, headers = {}) =>
    response.writeHead(status, headers).end(JSON.stringify({ error: { code: 'no', message: 'no', remedy: '' } }));
  if (manner === 'hotel') return void response.writeHead(200, { 'content-type': 'text/html' }).end('<html>Your room number, please</html>');
  if (manner === 401 || manner === 500) return void refuse(manner);
  if (manner === 429) return void refuse(429, { 'retry-after': '60' });
  if (manner === 'one-at-a-time' && lines.length > 1) return void refuse(413);
  const items = lines.map((line, at) => {
    const item = readItem(line);
    if (item) stored.push(item);
    return { line: at + 1, outcome: item ? 'accepted' : 'refused' };
  });
  // What was taken and not answered comes again.
  if (manner === 'silent-loss') return void response.destroy();
  response.writeHead(items.some((one) => one.outcome === 'refused') ? 400 : 202).end(JSON.stringify({ items }));
}

async function bodyOf(request: IncomingMessage): Promise<string> {
  let body = '';
  for await (const chunk of request) body += chunk;
  return body;
}

beforeAll(async () => {
  server = createServer(async (request, response) => {
    requests++;
    const body = await bodyOf(request).catch(() => null);
    // A client that is killed says nothing to the end.
    if (body === null) return;
    try {
      answer(response, body);
    } catch (fault) {
      faults.push(String(fault));
      response.writeHead(500).end();
    }
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
});
afterAll(() => {
  server.closeAllConnections();
  server.close();
});
beforeEach(() => {
  stored = [];
  requests = 0;
  faults = [];
});
afterEach(() => expect(faults).toEqual([]));

const reports = () => stored.flatMap((item) => (item.type === 'report' ? [item] : []));
const sessionItems = () => stored.flatMap((item) => (item.type === 'session' ? [item] : []));
/** Each report once: the server knows one that comes again by its id. */
const distinct = () => [...new Map(reports().map((one) => [one.id, one])).values()];

/** Launches of an app, one after the other, in one folder: what it does, and how the server is then. */
interface Situation {
  readonly name: string;
  readonly launches: readonly (readonly [string, Manner])[];
  readonly check: () => void;
}

const messages = () => distinct().map((one) => one.exceptions[0]?.message ?? one.exceptions[0]?.stack ?? '');
const only = (kind: string) => () => {
  expect(distinct().map((one) => one.kind)).toEqual([kind]);
  expect(messages()[0]).toContain('no perch');
  expect(distinct()[0]).toMatchObject({ version: '4.3.0', build: '430', personId: 'warden-7' });
};

const situations: readonly Situation[] = [
  {
    name: 'a crash without a network is told at the next launch',
    launches: [
      ['crash', 'down'],
      ['well', 'up'],
    ],
    check: only('crash'),
  },
  {
    name: 'a crash beside a server is told once',
    launches: [
      ['crash', 'up'],
      ['well', 'up'],
      ['well', 'up'],
    ],
    check: only('crash'),
  },
  {
    name: 'a crash ends its session as crashed, and the next launch has one of its own',
    launches: [
      ['crash', 'down'],
      ['well', 'up'],
    ],
    check: () => {
      const sessions = sessionItems();
      const crashed = sessions.filter((one) => one.state === 'crashed');
      expect(new Set(crashed.map((one) => one.id)).size).toBe(1);
      expect(reports()[0]?.sessionId).toBe(crashed[0]?.id);
      const ended = sessions.filter((one) => one.state === 'ended');
      expect(ended.length).toBeGreaterThan(0);
      expect(ended.map((one) => one.id)).not.toContain(crashed[0]?.id);
      expect(new Set(sessions.map((one) => one.installationId)).size).toBe(1);
      for (const { id, sequence } of sessions) expect(sessions.filter((one) => one.id === id && one.sequence === sequence)).toHaveLength(1);
    },
  },
  { name: 'an error that is handled is told, and the app goes on', launches: [['error', 'up']], check: only('error') },
  {
    name: 'without a network for three launches everything comes with the fourth',
    launches: [
      ['error', 'down'],
      ['error', 'down'],
      ['error', 'down'],
      ['well', 'up'],
    ],
    check: () => expect(distinct()).toHaveLength(3),
  },
  {
    name: 'a key that is refused loses nothing',
    launches: [
      ['error', 401],
      ['well', 'up'],
    ],
    check: only('error'),
  },
  {
    name: 'a server in trouble loses nothing',
    launches: [
      ['error', 500],
      ['well', 'up'],
    ],
    check: only('error'),
  },
  {
    name: 'a server that is full is asked later',
    launches: [
      ['error', 429],
      ['well', 'up'],
    ],
    check: only('error'),
  },
  {
    name: 'the page of a hotel takes nothing away',
    launches: [
      ['error', 'hotel'],
      ['well', 'up'],
    ],
    check: only('error'),
  },
  {
    name: 'what was taken and never answered comes again as the same',
    launches: [
      ['error', 'silent-loss'],
      ['well', 'up'],
    ],
    check: only('error'),
  },
  {
    name: 'what is too large together comes in parts',
    launches: [
      ['error', 'down'],
      ['error', 'one-at-a-time'],
    ],
    check: () => expect(distinct()).toHaveLength(2),
  },
  {
    name: 'a debug build sends nothing at all',
    launches: [['debug', 'up']],
    check: () => expect([requests, stored]).toEqual([0, []]),
  },
  {
    name: 'of ten thousand events the last are kept, and no more than fit',
    launches: [['trail', 'up']],
    check: () => {
      const events = distinct()[0]?.trail ?? [];
      expect(events.length).toBeGreaterThanOrEqual(50);
      expect(events.length).toBeLessThanOrEqual(500);
      expect(events.at(-1)).toMatchObject({ kind: 'screen', name: 'screen 9999' });
    },
  },
  {
    name: 'a message of a megabyte is cut, and arrives',
    launches: [['long', 'up']],
    check: () => expect(messages()[0]?.startsWith('xxxx') || messages()[0]?.includes('xxxx')).toBe(true),
  },
  { name: 'a state that fails costs itself alone', launches: [['state-fails', 'up']], check: only('error') },
  {
    name: 'a state that reports something itself goes round once',
    launches: [['state-reports', 'up']],
    check: () => {
      expect(messages().filter((one) => one.includes('no perch'))).toHaveLength(1);
      expect(distinct().length).toBeLessThanOrEqual(2);
    },
  },
  {
    name: 'of each kind a share is sent, which stands for all',
    launches: [['sampled', 'up']],
    check: () => {
      // One in a billion of fair samples of forty has fewer or more.
      expect(distinct().length).toBeGreaterThan(2);
      expect(distinct().length).toBeLessThan(38);
      expect(new Set(distinct().map((one) => one.samplePercent))).toEqual(new Set([50]));
    },
  },
  {
    name: 'a session drawn for it tells what happened in it',
    launches: [
      ['told-trail', 'up'],
      ['bare', 'up'],
    ],
    check: () => {
      const ended = sessionItems().filter((one) => one.state === 'ended');
      expect(ended.length).toBeGreaterThan(0);
      for (const { trail } of ended) expect(trail).toContainEqual(expect.objectContaining({ kind: 'screen', name: 'Map' }));
    },
  },
  {
    name: 'a session that is not drawn tells no trail',
    launches: [['untold-trail', 'up']],
    check: () => {
      expect(sessionItems().length).toBeGreaterThan(0);
      for (const one of sessionItems()) expect(one.trail).toEqual([]);
    },
  },
  {
    name: 'a crash that is sampled out still ends its session',
    launches: [
      ['crash-sampled-out', 'down'],
      ['well', 'up'],
    ],
    check: () => {
      expect(distinct()).toEqual([]);
      expect(stored.some((item) => item.type === 'session' && item.state === 'crashed')).toBe(true);
    },
  },
  {
    name: 'what the app scrubs never leaves it, in no item',
    launches: [['scrubbed', 'up']],
    check: () => {
      expect(messages()).toHaveLength(1);
      expect(stored.length).toBeGreaterThan(1);
      expect(JSON.stringify(stored)).not.toContain('warden-7');
      expect(JSON.stringify(stored)).not.toContain('secret');
    },
  },
  {
    name: 'scrubbing that fails lets nothing through',
    launches: [
      ['scrubbing-fails', 'up'],
      ['scrubbing-fails', 'up'],
    ],
    check: () => expect([requests, stored]).toEqual([0, []]),
  },
  {
    name: 'a dry run sends nothing, and keeps nothing for later',
    launches: [['dry', 'up']],
    check: () => expect([requests, stored]).toEqual([0, []]),
  },
  {
    name: 'all that the app tells of itself is there',
    launches: [['all', 'up']],
    check: () => {
      const [report] = distinct();
      expect(report).toMatchObject({
        personId: 'warden-9',
        contact: 'warden@larkfield.example',
        flags: { 'night-map': 'on' },
        attributes: { layers: ['night', 'tracks'], zoom: 14 },
        device: { model: 'Tarn Go 3', batteryPercent: 41 },
        network: 'wifi',
      });
      const kinds = report?.trail.map((event) => event.kind);
      expect(kinds).toEqual(['screen', 'flag', 'log', 'custom', 'request', 'lifecycle']);
      const ended = stored.find((item) => item.type === 'session' && item.state === 'ended');
      expect(ended).toMatchObject({ personId: 'warden-9', flags: { 'night-map': 'on' }, network: 'wifi' });
    },
  },
  {
    name: 'a hundred errors without a network are bounded, and the last of them is there',
    launches: [
      ['many', 'down'],
      ['well', 'up'],
    ],
    check: () => {
      expect(distinct().length).toBeGreaterThan(10);
      expect(distinct().length).toBeLessThanOrEqual(100);
      expect(messages().some((one) => one.includes('perch 99'))).toBe(true);
    },
  },
];

describe.each(clients.filter((client) => client.isHere))('the client of $name', ({ name, build, command }) => {
  beforeAll(() => build());

  const start = (where: string, what: string, how: Manner) => {
    manner = how;
    const address = `http://127.0.0.1:${how === 'down' ? 9 : (server.address() as AddressInfo).port}`;
    const [program, ...first] = command as [string, ...string[]];
    return spawn(program, [...first, address, 'intake_test', where, what], { stdio: 'ignore' });
  };
  /** Runs a launch to its end; a program that hangs is one that never ends. */
  const launch = (where: string, what: string, how: Manner): Promise<number | null> =>
    new Promise((resolve) => start(where, what, how).once('exit', resolve));
  const place = (situation: string) => join(folder, `${name} ${situation}`.replace(/\W+/g, '-'));

  it.each(situations)('$name', async ({ name: situation, launches, check }) => {
    for (const [what, how] of launches) {
      const code = await launch(place(situation), what, how);
      if (!what.startsWith('crash')) expect([what, code]).toEqual([what, 0]);
      else expect(code).not.toBe(0);
    }
    check();
  });

  it('a folder that cannot be had, or that holds nonsense, keeps no app from running', async () => {
    const file = place('no folder');
    writeFileSync(file, 'a file, and no folder');
    expect(await launch(file, 'error', 'up')).toBe(0);
    const where = place('nonsense');
    await launch(where, 'error', 'down');
    for (const entry of readdirSync(where, { recursive: true, encoding: 'utf8' }))
      if (statSync(join(where, entry)).isFile()) writeFileSync(join(where, entry), '\u0000{"type":');
    expect(await launch(where, 'error', 'up')).toBe(0);
    expect(await launch(where, 'well', 'up')).toBe(0);
    expect(messages().some((one) => one.includes('no perch'))).toBe(true);
  });

  it('killed at any moment tells each crash once, or not at all, and starts again', async () => {
    const where = place('killed');
    const times = Number(process.env.EMBER_TEST_KILLS ?? 8);
    for (let time = 0; time < times; time++) {
      const child = start(where, 'crash-slowly', 'down');
      const ended = new Promise((resolve) => child.once('exit', resolve));
      await pause(100 + ((time * 97) % 700));
      child.kill('SIGKILL');
      await ended;
    }
    for (let time = 0; time < 2; time++) expect(await launch(where, 'well', 'up')).toBe(0);
    expect(distinct().length).toBeLessThanOrEqual(times);
    expect(reports().length).toBe(distinct().length);
  });
});
