import { randomUUID } from 'node:crypto';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import mysql from 'mysql2/promise';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { databaseOf, type StartedProduct, startProduct } from '../testing/started-product.ts';

const folder = mkdtempSync(join(tmpdir(), 'ember-still-'));
let server: StartedProduct;
let key: string;
let cookie: string;
let database: mysql.Connection;

beforeAll(async () => {
  server = await startProduct(folder, { PORT: '0', EMBER_DEMO: 'off', EMBER_LOG_LEVEL: 'silent' });
  const { address, first } = server;
  const post = (path: string, body: object) =>
    fetch(address + path, {
      method: 'POST',
      headers: { origin: address, cookie, 'content-type': 'application/json' },
      body: JSON.stringify(body),
    });
  cookie = '';
  cookie = ((await post('/api/v1/sign-in', first)).headers.get('set-cookie') as string).split(';')[0] as string;
  await post('/api/v1/apps', { name: 'Still', prefix: 'ST', platforms: ['Android'], ourPackages: [] });
  key = (await (await fetch(`${address}/api/v1/apps/still/intake`, { headers: { cookie } })).json()).keys[0].keyText;
  database = await mysql.createConnection(databaseOf(folder));
});
afterAll(async () => {
  await database?.end().catch(() => {});
  await server?.stop();
  rmSync(folder, { recursive: true, force: true });
});

/** A session that crashed, and the report of it. */
const items = (): string => {
  const sessionId = randomUUID();
  const about = { version: '1.0', build: '1', installationId: randomUUID() };
  const at = new Date().toISOString();
  return [
    { type: 'session', id: sessionId, sequence: 0, at, startedAt: at, ...about },
    { type: 'report', id: randomUUID(), kind: 'crash', occurredAt: at, sessionId, ...about, exceptions: [{ type: 'java.lang.Error' }] },
  ]
    .map((item) => JSON.stringify(item))
    .join('\n');
};
const send = async (body: string) => {
  const answer = await fetch(`${server.address}/intake/v1/batch`, { method: 'POST', headers: { authorization: `Bearer ${key}` }, body });
  return { status: answer.status, wait: answer.headers.get('retry-after'), text: await answer.text() };
};
const ready = async () => (await fetch(`${server.address}/readyz`)).json();
const lives = async () => (await fetch(`${server.address}/healthz`)).status;
const figures = async () =>
  (await (await fetch(`${server.address}/api/v1/apps/still/crash-free?last=all`, { headers: { cookie } })).json()).total;

/** What was sent while the database stood still is sent again, as every client does; then everything is as if nothing had been. */
async function goesOn(unsure: readonly string[]): Promise<void> {
  await expect.poll(async () => (await ready()).status).toBe('ready');
  for (const body of unsure) await expect.poll(async () => (await send(body)).status).toBe(202);
  const [[truth]] = (await database.query(
    "SELECT COUNT(*) AS sessions, SUM(state = 'crashed') AS crashed FROM sessions WHERE begun",
  )) as unknown as [{ sessions: number; crashed: string }[]];
  await expect.poll(async () => (await figures()).sessions).toBe(truth?.sessions);
  expect((await figures()).crashed).toBe(Number(truth?.crashed));
  await expect
    .poll(async () => (await database.query("SELECT COUNT(*) AS waiting FROM reports WHERE state <> 'processed'"))[0])
    .toEqual([{ waiting: 0 }]);
}

describe('a database that stands still', () => {
  it('because a backup holds it: senders are told so before it goes on, and the figures are right afterwards', async () => {
    expect((await send(items())).status).toBe(202);
    expect((await figures()).sessions).toBe(1);
    const unsure = [items(), items()];
    await database.query('FLUSH TABLES WITH READ LOCK');
    try {
      const answers = await Promise.all(unsure.map(send));
      for (const answer of answers) {
        expect(answer.status, answer.text).toBe(503);
        expect(Number(answer.wait)).toBeGreaterThan(0);
        expect(answer.text).toMatch(/database/);
      }
      expect([await lives(), (await ready()).database]).toEqual([200, 'frozen']);
      // What is there can still be looked at.
      expect((await figures()).sessions).toBe(1);
    } finally {
      await database.query('UNLOCK TABLES');
    }
    await goesOn(unsure);
  });

  it('because it hangs: senders and people are told so, and it goes on by itself', async () => {
    const pid = Number(readFileSync(join(folder, 'mariadb', 'mariadbd.pid'), 'utf8'));
    const unsure = [items(), items()];
    process.kill(pid, 'SIGSTOP');
    try {
      const [page, ...answers] = await Promise.all([
        fetch(`${server.address}/apps/still/cases`, { headers: { cookie, accept: 'text/html' } }),
        ...unsure.map(send),
      ]);
      for (const answer of answers) expect([answer.status, answer.text]).toEqual([503, expect.stringContaining('does not answer')]);
      expect(page.status).toBe(503);
      expect(await page.text()).toContain('looks again every five seconds');
      expect([await lives(), (await ready()).database]).toEqual([200, 'silent']);
      await pause(1_000);
    } finally {
      process.kill(pid, 'SIGCONT');
    }
    await goesOn(unsure);
  });
});
