import { execFile } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { once } from 'node:events';
import { copyFileSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer as createHttpServer } from 'node:http';
import { type AddressInfo, createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { AppScreens } from '@rough-ember/server/stability/app-activity';
import { afterAll, expect, it } from 'vitest';
import { java, requireProgram } from '../../scripts/debian.ts';
import { askAsOwner, casesOf, eventually } from './testing/owner.ts';
import { server } from './testing/server.ts';

const guide = fileURLToPath(new URL('../../demo/reporting-guide/', import.meta.url));
const folder = mkdtempSync(join(tmpdir(), 'ember-java-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** Runs the obfuscated program; gives its exit code and what it printed. */
const run = (address: string, ...screen: string[]) => runIn(folder, address, ...screen);
const runIn = (place: string, address: string, ...screen: string[]) =>
  new Promise<{ code: number; out: string; err: string }>((resolve) => {
    const args = ['-cp', join(guide, 'guide.jar'), 'com.larkfield.guide.ReportingGuide', address, server.intakeKey, place, ...screen];
    execFile(requireProgram(java), args, (error, out, err) => resolve({ code: error ? Number(error.code) : 0, out, err }));
  });

it('an obfuscated Java program crashes, is started again, and its readable case appears', async () => {
  const { address, uploadToken } = server;
  // The server is out of reach while it crashes; the crash is printed as it would be without the reporter.
  const crashed = await run('http://127.0.0.1:9', 'night-map');
  expect(crashed.code).toBe(1);
  expect(crashed.err).toContain('Exception in thread "main"');
  const waiting = () => readdirSync(join(folder, 'ember')).filter((name) => name.endsWith('.item'));
  expect(waiting().filter((name) => name.includes('report'))).toHaveLength(1);

  expect((await run(address)).code).toBe(0);
  expect((await run(address)).code).toBe(0);
  expect(waiting()).toEqual([]);
  const [raw] = await eventually(
    () => casesOf('4.3.2'),
    (cases) => cases.length > 0,
  );
  expect(raw?.reports).toBe(1);

  const upload = await fetch(`${address}/api/v1/apps/larkfield-guide/symbol-files?version=4.3.2&build=432`, {
    method: 'POST',
    headers: { authorization: `Bearer ${uploadToken}` },
    body: readFileSync(join(guide, 'mapping.txt')),
  });
  expect(upload.status).toBe(202);
  const [readable] = await eventually(
    () => casesOf('4.3.2'),
    (cases) => cases[0]?.where.includes('NightMap') === true,
  );
  expect(readable).toMatchObject({ reports: 1, where: expect.stringMatching(/^NightMap\./) });
  const { report } = await askAsOwner<{ report: Record<string, unknown> }>(
    `/api/v1/apps/larkfield-guide/cases/${readable?.ref}?last=all&version=4.3.2`,
  );
  expect(report).toMatchObject({
    version: '4.3.2',
    device: { model: 'OD-40' },
    attributes: { screen: 'night-map', zoom: 14 },
    trail: [
      { kind: 'screen', name: 'home' },
      { kind: 'request', status: 504 },
      { kind: 'screen', name: 'night-map' },
    ],
  });
  // Sessions are counted as they stood a moment ago.
  const ofScreen = async () => {
    const { screens } = await askAsOwner<AppScreens>('/api/v1/apps/larkfield-guide/screens?last=all&version=4.3.2');
    return screens.find((one) => one.screen === 'night-map');
  };
  await expect.poll(ofScreen).toMatchObject({ visits: 1, sessions: 1, persons: 1, reports: 1 });
});

it('sends what the native client wrote into its folder, once, and removes what it had prepared for nothing', async () => {
  const kept = join(folder, 'ember');
  const written = (process: number) => join(kept, `${process}-${randomUUID()}.ember`);
  // No system gives this number to a process; 1 is always there.
  const [gone, there] = [4_194_304, 1];
  copyFileSync(new URL('../../core/samples/native-crash/thread-arm64.crash', import.meta.url), written(gone));
  writeFileSync(written(gone), Buffer.alloc(4_096));
  const ofAnother = written(there);
  writeFileSync(ofAnother, Buffer.alloc(4_096));
  expect((await run(server.address)).code).toBe(0);
  expect(readdirSync(kept).filter((name) => name.endsWith('.ember'))).toEqual([basename(ofAnother)]);
  rmSync(ofAnother);
  const crashes = async () => {
    const person = await askAsOwner<{ moments: { type: string; kind?: string; what?: string | null; version: string }[] }>(
      '/api/v1/apps/larkfield-guide/person?id=warden-7',
    );
    return person.moments.filter(({ type, what }) => type === 'report' && what === 'SIGSEGV');
  };
  await expect.poll(crashes).toEqual([expect.objectContaining({ kind: 'crash', version: '4.3.0' })]);
});

it('a server that never answers holds up no call of the app, nor does an exception whose own code fails', async () => {
  const silent = createServer(() => {}).listen(0, '127.0.0.1');
  await once(silent, 'listening');
  const { port } = silent.address() as AddressInfo;
  const { code, out } = await run(`http://127.0.0.1:${port}`, 'stopwatch');
  silent.close();
  expect(code).toBe(0);
  // A call that waited for the network would wait for ten seconds.
  expect(Number(/slowest (\d+)/.exec(out)?.[1])).toBeLessThan(8_000);
  expect(readdirSync(join(folder, 'ember')).filter((name) => name.endsWith('report.item')).length).toBeGreaterThan(10);
});

const waitingIn = (place: string) => readdirSync(join(place, 'ember')).filter((name) => name.endsWith('.item'));

it('processes of one app that crash at the same moment in one folder keep a report each, and leave nothing half', async () => {
  const place = mkdtempSync(join(tmpdir(), 'ember-java-many-'));
  const codes = await Promise.all([1, 2, 3, 4].map(() => runIn(place, 'http://127.0.0.1:9', 'night-map')));
  expect(codes.map(({ code }) => code)).toEqual([1, 1, 1, 1]);
  const names = readdirSync(join(place, 'ember'));
  expect(names.filter((name) => name.endsWith('report.item'))).toHaveLength(4);
  expect(names.filter((name) => name.endsWith('.half'))).toEqual([]);
  rmSync(place, { recursive: true, force: true });
});

it('what answers in place of the server takes nothing away, and damaged files cost themselves alone', async () => {
  const place = mkdtempSync(join(tmpdir(), 'ember-java-damaged-'));
  expect((await runIn(place, 'http://127.0.0.1:9', 'night-map')).code).toBe(1);
  const kept = waitingIn(place).filter((name) => name.includes('report'));
  for (const [status, body] of [
    [200, '<html>Room number?</html>'],
    [400, '<html>Bad Request</html>'],
    [202, 'welcome'],
  ] as const) {
    const hotel = createHttpServer((_, response) => response.writeHead(status).end(body)).listen(0, '127.0.0.1');
    await once(hotel, 'listening');
    expect((await runIn(place, `http://127.0.0.1:${(hotel.address() as AddressInfo).port}`)).code).toBe(0);
    hotel.close();
    expect(waitingIn(place)).toEqual(expect.arrayContaining(kept));
  }
  writeFileSync(join(place, 'ember', '0-half-report.item'), '{"type":"report","half');
  writeFileSync(join(place, 'ember', '1-zero-report.item'), Buffer.alloc(300));
  writeFileSync(join(place, 'ember', 'installation'), 'x'.repeat(36));
  const { address } = server;
  expect((await runIn(place, address)).code).toBe(0);
  expect((await runIn(place, address)).code).toBe(0);
  expect(waitingIn(place)).toEqual([]);
  rmSync(place, { recursive: true, force: true });
});
