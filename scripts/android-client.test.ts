import { execFile, execFileSync } from 'node:child_process';
import { existsSync, mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import { readCrashFile } from '@rough-ember/core/report/formats/crash-file';
import { type Item, itemSchema } from '@rough-ember/core/report/item';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';

const run = promisify(execFile);
const place = (path: string) => fileURLToPath(new URL(path, import.meta.url));
const collectors = place('../collector/');
const sample = (name: string) => place(`../core/samples/${name}`);
const folder = mkdtempSync(join(tmpdir(), 'ember-android-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** A crash file as the server was given it: what is said of it, and what it is. */
interface SentFile {
  readonly about: Readonly<Record<string, string>>;
  readonly format: string | undefined;
  readonly kind: string | undefined;
}

let server: Server;
let files: SentFile[] = [];
let items: Item[] = [];
beforeAll(async () => {
  server = createServer(async (request, response) => {
    const parts: Buffer[] = [];
    for await (const part of request) parts.push(part as Buffer);
    const body = Buffer.concat(parts);
    const { pathname, searchParams } = new URL(request.url ?? '', 'http://server');
    if (pathname === '/intake/v1/file') {
      const read = readCrashFile(new Uint8Array(body), { receivedAt: new Date().toISOString() });
      const [found] = read.ok ? read.value : [];
      files.push({ about: Object.fromEntries(searchParams), format: found?.format, kind: found?.kind });
    } else
      items.push(
        ...body
          .toString()
          .split('\n')
          .map((line) => itemSchema.parse(JSON.parse(line))),
      );
    response.writeHead(202).end('{"items":[]}');
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
});
afterAll(() => server.close());
beforeEach(() => {
  files = [];
  items = [];
});

const reasons = { lowMemory: '3', exception: '4', native: '5', hang: '6', user: '10' } as const;
const session = '2c5e28ba-2fa1-41d2-883f-0016d3cca427';
/** An end as the system keeps it. */
const end = (reason: keyof typeof reasons, time: number, trace = '-', summary = '-') => [reasons[reason], String(time), trace, summary];
const native = (time: number) => end('native', time, sample('tombstone-protobuf/abort.pb'), `4.2.0|420|${session}`);

describe.skipIf(!existsSync('/usr/bin/javac'))('an app of Android', () => {
  const classes = join(folder, 'classes');
  beforeAll(() => {
    const stubs = readdirSync(join(collectors, 'android/testing'), { recursive: true, encoding: 'utf8' })
      .filter((name) => name.endsWith('.java'))
      .map((name) => join(collectors, 'android/testing', name));
    const clients = ['java/EmberReporter.java', 'android/EmberAndroid.java', 'android/EmberRequests.java'].map((name) =>
      join(collectors, name),
    );
    const strict = ['-Werror', '-Xlint:all', '-Xlint:-options', '-Xlint:-serial'];
    execFileSync('javac', [...strict, '-source', '8', '-target', '8', '-d', classes, ...clients, ...stubs], { stdio: 'pipe' });
  });

  /** Launches it in a folder of its own; gives what it leaves for the system to keep. */
  const launch = (where: string, hasNativeClient: boolean, ...ends: string[][]) => launchAs([], where, hasNativeClient, ends);
  const launchAs = async (settings: readonly string[], where: string, hasNativeClient: boolean, ends: string[][] = []) => {
    const address = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
    const words = [address, 'intake_test', join(folder, where), hasNativeClient ? 'yes' : 'no', ...ends.flat()];
    const { stdout } = await run('java', ['-XX:TieredStopAtLevel=1', ...settings, '-cp', classes, 'GuideApp', ...words]);
    return stdout.trim();
  };

  it('tells once how earlier processes ended: by native code, not responding, or for their memory', async () => {
    const ends = [
      native(1_764_000_400_000),
      end('hang', 1_764_000_300_000, sample('anr-trace/busy-main.txt')),
      end('lowMemory', 1_764_000_200_000),
      end('exception', 1_764_000_150_000),
      end('user', 1_764_000_100_000),
    ];
    await launch('ends', false, ...ends);
    expect(files.map(({ format, kind }) => [format, kind]).sort()).toEqual([
      ['anr-trace', 'hang'],
      ['exit-info', 'kill'],
      ['tombstone-protobuf', 'crash'],
    ]);
    const crash = files.find(({ kind }) => kind === 'crash');
    // It belongs to the version and the session that the process said beforehand.
    expect(crash?.about).toMatchObject({ version: '4.2.0', build: '420', sessionId: session, occurredAt: '2025-11-24T16:06:40.000Z' });
    expect(files.find(({ kind }) => kind === 'hang')?.about).toMatchObject({ version: '4.3.0', build: '430', deviceModel: 'Tarn Go 3' });
    expect(new Set(files.map(({ about }) => about.id)).size).toBe(3);

    files = [];
    await launch('ends', false, ...ends);
    expect(files).toEqual([]);
    await launch('ends', false, native(1_764_000_500_000), ...ends);
    expect(files.map(({ kind }) => kind)).toEqual(['crash']);
  });

  it('leaves native crashes to the native client where it has one', async () => {
    await launch('native', true, native(1_764_000_400_000), end('lowMemory', 1_764_000_200_000));
    expect(files.map(({ kind }) => kind)).toEqual(['kill']);
  });

  it('notes its screens and what the system does with it, and says beforehand whose end it would be', async () => {
    const summary = await launch('screens', false);
    const report = items.find((item) => item.type === 'report');
    expect(report).toMatchObject({
      version: '4.3.0',
      build: '430',
      os: { name: 'Android', version: '15' },
      device: {
        manufacturer: 'Tarn',
        model: 'Tarn Go 3',
        memory: { totalBytes: 2 ** 31, freeBytes: 104_857_600 },
        disk: { freeBytes: 2e9 },
        batteryPercent: 41,
        charging: false,
        orientation: 'landscape',
        emulator: true,
        rooted: false,
      },
      network: 'cellular',
      carrier: 'Skerry and Isles',
      country: 'NO',
      sideLoaded: true,
      trail: [
        { kind: 'lifecycle', state: 'foreground' },
        { kind: 'screen', name: 'MapActivity' },
        { kind: 'lifecycle', state: 'low-memory' },
        { kind: 'lifecycle', state: 'background' },
        { kind: 'request', method: 'GET', host: 'tiles.larkfield.example', path: '/night/{number}/8817.png', status: 503 },
      ],
    });
    expect(summary).toBe(`4.3.0|430|${report?.type === 'report' ? report.sessionId : ''}`);
  });

  it('tells what a main thread did that answered again after too long, with all others', async () => {
    await launchAs(['-Dhangs'], 'hangs', false);
    const hangs = items.flatMap((item) => (item.type === 'report' && item.kind === 'hang' ? [item] : []));
    expect(hangs).toHaveLength(1);
    expect(hangs[0]?.exceptions[0]?.message).toMatch(/^main did not answer for \d+ ms$/);
    const [main, ...others] = hangs[0]?.threads ?? [];
    expect(main).toMatchObject({ name: 'main', crashed: true });
    expect(hangs[0]?.exceptions[0]?.frames.map((frame) => ('method' in frame ? frame.method : ''))).toContain('readNestBoxes');
    expect(others.some((one) => one.frames.length > 0 && !one.crashed)).toBe(true);
  });

  it('does without what it has no permission for', async () => {
    await launchAs(['-Dshy'], 'shy', false);
    const report = items.find((item) => item.type === 'report');
    expect(report).toMatchObject({ device: { batteryPercent: 41 }, network: null, carrier: 'Skerry and Isles' });
  });

  it('sends the views of its screen when it is switched on, and else none', async () => {
    await launchAs(['-Dviews'], 'views', false);
    const views = items.flatMap((item) => (item.type === 'attachment' ? [item] : []));
    const report = items.find((item) => item.type === 'report');
    expect(views).toHaveLength(1);
    expect(views[0]).toMatchObject({ kind: 'view-hierarchy', reportId: report?.id });
    expect(Buffer.from(views[0]?.data ?? '', 'base64').toString()).toBe(
      'ViewGroup\n  ViewGroup#view_7\n    View#view_8 hidden\n    View\n',
    );
    items = [];
    await launch('no views', false);
    expect(items.map((item) => item.type)).not.toContain('attachment');
  });

  it('begins another session when it comes back after long, and says beforehand that its end would be that one’s', async () => {
    const summary = await launchAs(['-Daway'], 'away', false);
    // Each item is written on a thread of its own: which one comes first says nothing.
    const told = items.flatMap((item) => (item.type === 'session' ? [item] : []));
    const sessions = [...told].sort((a, b) => Date.parse(a.startedAt) - Date.parse(b.startedAt) || a.sequence - b.sequence);
    const [first, second] = [...new Set(sessions.map((one) => one.id))];
    const [ended, away, ...before] = sessions.filter((one) => one.id === first).reverse();
    // Its start is not told where the app was in the background before that could be.
    expect([ended, away, ...before].map((one) => one?.state)).toEqual(['ended', 'open', ...before.map(() => 'open')]);
    expect(sessions.filter((one) => one.id === second)[0]).toMatchObject({ state: 'open', sequence: 0 });
    // What was spent in the background is nobody's use.
    expect(ended?.durationMs).toBe(away?.durationMs);
    expect(summary).toBe(`4.3.0|430|${second}`);
    const report = items.find((item) => item.type === 'report');
    expect(report?.type === 'report' && report.sessionId).toBe(second);
  });
});
