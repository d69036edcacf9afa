import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { type Destination, sendFile } from './send-file.ts';

/** A server of the upload protocol that keeps what has arrived, and breaks off where it is told to. */
class PartServer {
  received = Buffer.alloc(0);
  readonly requests: string[] = [];
  breakAfterBytes = Number.POSITIVE_INFINITY;
  refusal: { status: number; body: object } | null = null;
  private readonly server: Server = createServer((request, response) => {
    this.requests.push(`${request.method} ${request.url}`);
    if (request.method === 'POST') {
      response.writeHead(201, { location: '/api/v1/apps/guide/symbol-uploads/1', 'tus-resumable': '1.0.0' }).end();
      return;
    }
    if (request.method === 'HEAD') {
      const offset = String(this.received.length);
      response.writeHead(200, { 'upload-offset': offset, 'upload-length': String(this.wholeBytes), 'tus-resumable': '1.0.0' }).end();
      return;
    }
    request.on('data', (chunk: Buffer) => {
      this.received = Buffer.concat([this.received, chunk]);
      if (this.received.length >= this.breakAfterBytes) {
        this.breakAfterBytes = Number.POSITIVE_INFINITY;
        request.socket.destroy();
      }
    });
    request.on('end', () => {
      const headers = { 'upload-offset': String(this.received.length), 'tus-resumable': '1.0.0' };
      if (this.received.length < this.wholeBytes) response.writeHead(204, headers).end();
      else if (this.refusal) response.writeHead(this.refusal.status, headers).end(JSON.stringify(this.refusal.body));
      else response.writeHead(202, headers).end(JSON.stringify({ id: 7, state: 'indexing', isNew: true }));
    });
  });

  constructor(private readonly wholeBytes: number) {}

  async listen(): Promise<string> {
    await new Promise<void>((resolve) => this.server.listen(0, '127.0.0.1', resolve));
    return `http://127.0.0.1:${(this.server.address() as AddressInfo).port}/api/v1/apps/guide`;
  }

  close(): void {
    this.server.closeAllConnections();
    this.server.close();
  }
}

const wholeBytes = 20 << 20;
let folder: string;
let path: string;
let server: PartServer;
let to: Destination;
const stateHome = process.env.XDG_STATE_HOME;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'ember-send-'));
  process.env.XDG_STATE_HOME = folder;
  path = join(folder, 'libsong.so');
  writeFileSync(path, Buffer.alloc(wholeBytes, 'a lark sings. '));
});
afterAll(() => {
  if (stateHome === undefined) delete process.env.XDG_STATE_HOME;
  else process.env.XDG_STATE_HOME = stateHome;
  rmSync(folder, { recursive: true });
});
beforeEach(async () => {
  server = new PartServer(wholeBytes);
  to = { app: await server.listen(), token: 't', version: '', build: '' };
});
afterEach(() => server.close());

describe('a large file', () => {
  it('goes in parts, and tells how far it is', async () => {
    const told: number[] = [];
    expect(await sendFile(path, to, (bytes) => told.push(bytes))).toEqual({ id: 7, state: 'indexing', isNew: true });
    expect(server.received.equals(readFileSync(path))).toBe(true);
    expect(server.requests.filter((one) => one.startsWith('PATCH'))).toHaveLength(3);
    expect(told.at(-1)).toBe(wholeBytes);
    expect([...told].sort((a, b) => a - b)).toEqual(told);
  });

  it('is taken up where the connection broke', async () => {
    server.breakAfterBytes = 11 << 20;
    await sendFile(path, to, () => {});
    expect(server.received.equals(readFileSync(path))).toBe(true);
    expect(server.requests.filter((one) => one.startsWith('HEAD')).length).toBeGreaterThan(0);
    expect(server.requests.filter((one) => one.startsWith('POST'))).toHaveLength(1);
  });

  it("is refused in the server's own words, and not tried again", async () => {
    server.refusal = { status: 422, body: { error: { message: 'This looks like a song.', remedy: 'Send the library.' } } };
    await expect(sendFile(path, to, () => {})).rejects.toThrow('the server refused: This looks like a song. Send the library.');
    expect(server.requests.filter((one) => one.startsWith('POST'))).toHaveLength(1);
  });
});
