import { randomUUID } from 'node:crypto';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import mysql from 'mysql2/promise';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { databaseOf } from '../testing/started-product.ts';
import { type StartedApp, startApp } from './started-app.ts';

const folder = mkdtempSync(join(tmpdir(), 'ember-still-'));
let app: StartedApp;
let database: mysql.Connection;

beforeAll(async () => {
  app = await startApp(folder, 'still');
  database = await mysql.createConnection(databaseOf(folder));
});
afterAll(async () => {
  await database?.end().catch(() => {});
  await app?.server.stop();
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
const send = (body: string) => app.send(body);
const ask = (path: string, headers: Record<string, string> = {}) =>
  fetch(app.server.address + path, { headers: { cookie: app.cookie, ...headers } });
const ready = async () => (await ask('/readyz')).json();
const lives = async () => (await ask('/healthz')).status;
const figures = async () => (await (await ask('/api/v1/apps/still/crash-free?last=all')).json()).total;

/** What was sent while the database stood still is sent again, as every client does; then everything is as if nothing had been. */
async function goesOn(unsure: readonly string[]): Promise<void> {
  await expect.poll(async () => (await ready()).status).toBe('ready');
  for (const body of unsure) await expect.poll(async () => (await send(body)).status).toBe(202);
  const [[truth]] = (await database.query(
    "SELECT COUNT(*) AS sessions, SUM(state = 'crashed') AS crashed FROM sessions WHERE started",
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
      const [page, ...answers] = await Promise.all([ask('/apps/still/cases', { accept: 'text/html' }), ...unsure.map(send)]);
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
