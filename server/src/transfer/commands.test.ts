import { execFile } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, truncateSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import { asyncBufferFromFile, parquetReadObjects } from 'hyparquet';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { issueToken } from '../accounts/issue-credentials.ts';
import { guideFile, startTestServer, type TestServer } from '../testing/test-server.ts';

const run = promisify(execFile);
const ember = fileURLToPath(new URL('../../../cli/bin/ember.mjs', import.meta.url));
const folder = mkdtempSync(join(tmpdir(), 'ember-export-'));

let from: TestServer;
let to: TestServer;
beforeAll(async () => {
  [from, to] = await Promise.all([startTestServer(), startTestServer()]);
  await from.sendItems(
    Array.from({ length: 30 }, (_, index) => ({
      ...{ type: 'report', id: randomUUID(), kind: 'crash', version: index % 2 === 0 ? '4.2.0' : '4.3.0', build: '1' },
      ...{ occurredAt: new Date(Date.now() - index * 3_600_000).toISOString(), personId: `warden-${index % 5}` },
      exceptions: [{ type: 'java.lang.Error', message: `no perch ${index}` }],
    })),
  );
  await from.uploadSymbols(guideFile('4.3.1/mapping.txt'), { version: '4.3.1', build: '431', name: 'mapping.txt' });
  await from.settled();
});
afterAll(async () => {
  await Promise.all([from.stop(), to.stop()]);
  rmSync(folder, { recursive: true, force: true });
});

async function call(server: TestServer, ...args: string[]): Promise<string> {
  const token = await issueToken(server.database, { appId: server.app.id, name: `mover ${randomUUID()}`, scope: 'write' });
  const { stdout } = await run(process.execPath, [ember, ...args, '--server', server.address, '--token', token, '--app', 'guide']);
  return stdout;
}

it('an app is written into a folder, gone on with where that was cut short, and taken in elsewhere with its symbol files', async () => {
  expect(await call(from, 'export', '--to', folder, '--parquet')).toContain('reports: 30 lines\n');
  const reports = join(folder, 'reports.ndjson');
  const whole = readFileSync(reports, 'utf8');
  // As if the connection had ended in the middle of a line.
  truncateSync(reports, Math.floor(whole.length / 2));
  expect(await call(from, 'export', '--to', folder)).toContain('reports: 30 lines\n');
  expect(readFileSync(reports, 'utf8')).toBe(whole);
  expect(readdirSync(join(folder, 'symbol-files'))).toHaveLength(1);

  const rows = await parquetReadObjects({ file: await asyncBufferFromFile(join(folder, 'reports.parquet')) });
  const lines = whole
    .split('\n')
    .filter((line) => line.startsWith('{"reportId"'))
    .map((line) => JSON.parse(line));
  expect(rows.map(({ reportId, version, weight, report }) => ({ reportId, version, weight, report }))).toEqual(
    lines.map(({ reportId, version, weight, report }) => ({ reportId, version, weight, report })),
  );
  expect(rows[0]?.occurredAt).toEqual(new Date(lines[0].occurredAt));
  expect(existsSync(join(folder, 'sessions.parquet'))).toBe(true);

  expect(await call(to, 'import', '--from', folder)).toContain('reports: 30 lines, 30 of them new here\n');
  await to.settled();
  expect(await call(to, 'import', '--from', folder)).toContain('reports: 30 lines, 0 of them new here\n');
  const [one, other] = await Promise.all([from, to].map((server) => call(server, 'ask', 'affected people by version', '--last', 'all')));
  expect(other).toBe(one);
  expect(one).toContain('5 affected people in all');
  const file = await to.database('symbol_files').where({ app_id: to.app.id }).first('version', 'build', 'state');
  expect(file).toEqual({ version: '4.3.1', build: '431', state: 'ready' });
});

it('a folder that is none, and a token that may not change, are told', async () => {
  await expect(call(to, 'import', '--from', join(folder, 'nowhere'))).rejects.toMatchObject({
    stderr: expect.stringContaining('there is no folder'),
  });
  const token = await issueToken(to.database, { appId: to.app.id, name: 'reader', scope: 'read' });
  const args = ['export', '--to', join(folder, 'x'), '--server', to.address, '--token', token, '--app', 'guide'];
  await expect(run(process.execPath, [ember, ...args])).rejects.toMatchObject({ stderr: expect.stringContaining('the server refused') });
});
