import { execFile, execFileSync } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import { type Item, itemSchema } from '@rough-ember/core/report/item';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';

const sources = fileURLToPath(new URL('../collector/dotnet/', import.meta.url));
const folder = mkdtempSync(join(tmpdir(), 'ember-beside-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const isHere = ['/usr/bin/mcs', '/usr/bin/mono', '/usr/lib/mono/4.5/System.Net.Http.dll'].every((path) => existsSync(path));

let server: Server;
const items: Item[] = [];
beforeAll(async () => {
  server = createServer(async (request, response) => {
    let body = '';
    for await (const part of request) body += part;
    if (request.method !== 'POST') return response.writeHead(503).end();
    items.push(
      ...body
        .split('\n')
        .filter(Boolean)
        .map((line) => itemSchema.parse(JSON.parse(line))),
    );
    return response.writeHead(202).end('{"items":[]}');
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
});
afterAll(() => server.close());

describe.skipIf(!isHere)('what stands beside the reporter for .NET', () => {
  it('tells of requests by their template, and of what the app logs from a level on', async () => {
    const program = join(folder, 'Beside.exe');
    const files = ['EmberReporter.cs', 'EmberHttp.cs', 'EmberLogging.cs', 'testing/Logging.cs', 'testing/Beside.cs'];
    const how = ['-langversion:latest', '-warnaserror', '-r:System.Net.Http', `-out:${program}`];
    execFileSync('mcs', [...how, ...files.map((name) => join(sources, name))]);
    const address = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
    await promisify(execFile)('mono', [program, address, 'intake_test', join(folder, 'kept')]);
    const report = items.find((item) => item.type === 'report');
    expect(report).toMatchObject({
      trail: [
        { kind: 'log', level: 'warn', message: 'Tiles: few tiles (TimeoutException)' },
        { kind: 'request', method: 'GET', host: '127.0.0.1', path: '/t/{number}/8817.png', status: 503 },
      ],
    });
  });
});
