import { randomUUID } from 'node:crypto';
import { once } from 'node:events';
import { connect } from 'node:net';
import { raiseRevision } from '@rough-ember/store/apps';
import { connectionOf, openDatabase } from '@rough-ember/store/database';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { changeStream } from '../now/change-stream.ts';
import { startTestServer, type TestServer } from '../testing/test-server.ts';

let server: TestServer;
let stopped = false;
beforeEach(async () => {
  server = await startTestServer();
  stopped = false;
});
afterEach(async () => {
  if (!stopped) await server.stop();
});

const line = () =>
  JSON.stringify({ type: 'report', id: randomUUID(), kind: 'crash', occurredAt: new Date().toISOString(), version: '1', build: '1' });

/** A request that the server has begun to read, and whose body has not all come. */
async function begunRequest(address: string, key: string): Promise<{ finish(): Promise<string>; abort(): void }> {
  const { hostname, port } = new URL(address);
  const body = line();
  const socket = connect(Number(port), hostname);
  socket.setEncoding('utf8');
  socket.write(
    `POST /intake/v1/batch HTTP/1.1\r\nhost: x\r\nauthorization: Bearer ${key}\r\nexpect: 100-continue\r\ncontent-length: ${body.length}\r\n\r\n`,
  );
  expect(await once(socket, 'data')).toEqual([expect.stringContaining('100 Continue')]);
  socket.write(body.slice(0, 20));
  return {
    finish: async () => {
      socket.write(body.slice(20));
      const [answer] = await once(socket, 'data');
      socket.end();
      return answer;
    },
    abort: () => socket.destroy(),
  };
}

describe('the HTTP server', () => {
  it('answers what was begun when it is stopped', async () => {
    const request = await begunRequest(server.address, server.intakeKey);
    const answered = request.finish();
    const stop = server.stop();
    stopped = true;
    expect(await answered).toContain('"outcome":"accepted"');
    await stop;
    await expect(fetch(`${server.address}/healthz`)).rejects.toThrow();
  });

  it('goes on after a sender that went away in the middle', async () => {
    const request = await begunRequest(server.address, server.intakeKey);
    request.abort();
    expect((await server.send('/intake/v1/batch', line())).status).toBe(202);
  });

  it('answers an address that leads nowhere with a reason', async () => {
    const answer = await fetch(`${server.address}/nowhere`);
    expect([answer.status, (await answer.json()).error.code]).toEqual([404, 'not-found']);
    expect(answer.headers.get('x-request-id')).toMatch(/^[0-9a-f-]{36}$/);
  });

  it('says that the database is away, and keeps nothing half', async () => {
    const { database } = server.services;
    await database.raw('RENAME TABLE report_bodies TO hidden');
    const failed = await server.send('/intake/v1/batch', line());
    expect([failed.status, failed.body.error.code]).toEqual([500, 'internal']);
    expect(JSON.stringify(failed.body)).not.toContain('report_bodies');
    await database.raw('RENAME TABLE hidden TO report_bodies');
    expect(Number((await database('reports').count({ count: '*' }))[0]?.count)).toBe(0);
  });
});

describe('the stream of changes', () => {
  it('tells of changes that another process made, until the listener loses the right to hear of them', async () => {
    const other = openDatabase(await addressOfDatabase(server));
    let isAllowed = true;
    const reader = (await changeStream(server.services, server.app.id, async () => isAllowed)).body?.getReader();
    const decoder = new TextDecoder();
    let told = '';
    const reading = (async () => {
      for (let part = await reader?.read(); part && !part.done; part = await reader?.read()) told += decoder.decode(part.value);
    })();
    for (let change = 1; change <= 2; change++) {
      await raiseRevision(other, server.app.id);
      await expect.poll(() => told.match(/event: changed/g)?.length).toBe(change);
    }
    isAllowed = false;
    await raiseRevision(other, server.app.id);
    await reading;
    expect(told.match(/event: changed/g)).toHaveLength(2);
    await reader?.cancel();
    await other.destroy();
  });
});

/** The second connection goes to the same database, as that of another process would. */
async function addressOfDatabase({ database }: TestServer): Promise<string> {
  const { host, port, user, password, name } = connectionOf(database);
  return `mysql://${user}:${password}@${host}:${port}/${name}`;
}
