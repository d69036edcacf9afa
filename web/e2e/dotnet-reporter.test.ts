import { execFile, execFileSync } from 'node:child_process';
import { once } from 'node:events';
import { existsSync, mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { askAsOwner, casesOf, eventually } from './testing/owner.ts';
import { server } from './testing/server.ts';

const sources = fileURLToPath(new URL('../../collector/dotnet/', import.meta.url));
const folder = mkdtempSync(join(tmpdir(), 'ember-dotnet-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** Runs the program; gives its exit code and what it printed. */
const run = (address: string, how: string, kept = join(folder, 'kept')) =>
  new Promise<{ code: number; err: string }>((resolve) => {
    const args = [join(folder, 'Survey.exe'), address, server.intakeKey, kept, how];
    execFile('mono', args, (error, _out, err) => resolve({ code: error ? Number(error.code) : 0, err }));
  });
const waiting = (kept = join(folder, 'kept')) => readdirSync(join(kept, 'ember')).filter((name) => name.endsWith('.item'));

describe.skipIf(!existsSync('/usr/bin/mcs') || !existsSync('/usr/bin/mono'))('a program of .NET with the reporter', () => {
  beforeAll(() => {
    const files = [join(sources, 'EmberReporter.cs'), join(sources, 'testing/Survey.cs')];
    execFileSync('mcs', ['-langversion:latest', '-warnaserror', ...files, `-out:${join(folder, 'Survey.exe')}`]);
  });

  it('crashes without a server, and tells it at the next launch, once, with what caused it', async () => {
    const crashed = await run('http://127.0.0.1:9', 'crash');
    expect([crashed.code, crashed.err]).toEqual([1, expect.stringContaining('no perch in the reed hide')]);
    expect(waiting().filter((name) => name.includes('report'))).toHaveLength(1);
    for (let launch = 0; launch < 2; launch++) expect((await run(server.address, 'well')).code).toBe(0);
    expect(waiting()).toEqual([]);
    const [one] = await eventually(
      () => casesOf('4.3.4'),
      (cases) => cases.length > 0,
    );
    expect(one).toMatchObject({ reports: 1, where: 'Survey.Visit' });
    const { report } = await askAsOwner<{ report: { readable: { exceptions: { type: string; relation: string }[] } } }>(
      `/api/v1/apps/larkfield-guide/cases/${one?.ref}?last=all&version=4.3.4`,
    );
    expect(report).toMatchObject({
      device: { model: 'OD-40' },
      personId: 'warden-11',
      flags: { 'night-map': 'on' },
      attributes: { zoom: 14, layers: ['night', 'tracks'], quiet: true },
      trail: [{ kind: 'screen', name: 'Map' }, { kind: 'request', status: 504 }, { kind: 'flag' }],
    });
    expect(report.readable.exceptions.map(({ type, relation }) => [type, relation])).toEqual([
      ['System.InvalidOperationException', 'thrown'],
      ['System.IndexOutOfRangeException', 'cause'],
    ]);
  });

  it('reports an error of several tasks that it handles, each member with its own cause', async () => {
    expect((await run(server.address, 'error')).code).toBe(0);
    const errors = () =>
      askAsOwner<{ cases: { ref: string; what: string }[] }>('/api/v1/apps/larkfield-guide/cases?last=all&kind=error&version=4.3.4');
    const { cases } = await eventually(errors, ({ cases }) => cases.length > 0);
    const { report } = await askAsOwner<{ report: { readable: { exceptions: { type: string; relation: string }[] } } }>(
      `/api/v1/apps/larkfield-guide/cases/${cases[0]?.ref}?last=all&kind=error&version=4.3.4`,
    );
    expect(report.readable.exceptions.map(({ type, relation }) => `${relation} ${type}`)).toEqual([
      'thrown System.AggregateException',
      'cause System.InvalidOperationException',
      'cause System.IndexOutOfRangeException',
      'suppressed System.ArgumentException',
    ]);
  });

  it('keeps what it has where something else answers in place of the server', async () => {
    const hotel = createServer((_request, response) => response.end('<html>Your room number, please</html>')).listen(0, '127.0.0.1');
    await once(hotel, 'listening');
    const kept = join(folder, 'hotel');
    const { port } = hotel.address() as AddressInfo;
    expect((await run(`http://127.0.0.1:${port}`, 'error', kept)).code).toBe(0);
    hotel.close();
    expect(waiting(kept).filter((name) => name.includes('report'))).toHaveLength(1);
  });
});
