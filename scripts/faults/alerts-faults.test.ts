import { randomUUID } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { type StandIns, startStandIns } from '@rough-ember/demo/stand-ins/stand-ins';
import { receiverSecrets } from '@rough-ember/demo/stand-ins/web-receivers';
import mysql from 'mysql2/promise';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { freePort } from '../mariadb.ts';
import { askUntilReady } from '../testing/sign-in.ts';
import { databaseOf, type StartedProduct, startProduct } from '../testing/started-product.ts';
import { type StartedApp, startApp } from './started-app.ts';

/** How often the server is killed between a fact and its message. */
const kills = Number(process.env.EMBER_TEST_KILLS ?? 3);
const folder = mkdtempSync(join(tmpdir(), 'ember-alerts-'));
let app: StartedApp;
let server: StartedProduct;
let standIns: StandIns;
let environment: Record<string, string>;

beforeAll(async () => {
  standIns = await startStandIns();
  environment = {
    PORT: String(await freePort()),
    EMBER_DEMO: 'off',
    EMBER_LOG_LEVEL: 'silent',
    EMBER_SMTP_URL: standIns.smtpUrl,
    EMBER_MAIL_FROM: 'ember@larkfield.example',
  };
  app = await startApp(folder, 'told', environment);
  server = app.server;
}, 240_000);
afterAll(async () => {
  await server?.stop();
  await standIns?.stop();
  rmSync(folder, { recursive: true, force: true });
});

const letters = (number: number): string => [...String(number)].map((digit) => 'abcdefghij'[Number(digit)]).join('');
const crash = (name: string): string =>
  JSON.stringify({
    type: 'report',
    id: randomUUID(),
    kind: 'crash',
    occurredAt: new Date().toISOString(),
    version: '1.0',
    build: '1',
    installationId: randomUUID(),
    exceptions: [{ type: `com.larkfield.${name}`, stack: `com.larkfield.${name}\n\tat com.larkfield.guide.${name}.sit(${name}.java:12)` }],
  });

it(`each new case is told once by each way, though the server is killed ${kills} times between a fact and its message`, async () => {
  const post = async (path: string, body: object): Promise<{ id: number }> =>
    (
      await askUntilReady(`${server.address}/api/v1/apps/told${path}`, {
        method: 'POST',
        headers: { cookie: app.cookie, origin: server.address, 'content-type': 'application/json' },
        body: JSON.stringify(body),
      })
    ).json();
  const { id } = await post('/channels', {
    name: 'receiver',
    kind: 'webhook',
    settings: { address: `${standIns.address}/webhook` },
    secret: receiverSecrets.webhook,
    mayReachPrivate: true,
  });
  const database = mysql.createPool(databaseOf(folder));
  // The rules that every app begins with would tell the same again.
  await database.query('DELETE FROM alert_rules');
  await post('/alert-rules', {
    what: { kind: 'case-begins' },
    where: 'kind=crash',
    whom: { people: 'everybody', channels: [id] },
    pace: { when: 'at-once', everyMinutes: 1 },
  });
  const hurry = () =>
    Promise.all([
      database.query('UPDATE deliveries SET due_at = UTC_TIMESTAMP(3)'),
      database.query("UPDATE messages SET run_after = UTC_TIMESTAMP(3) WHERE state = 'waiting'"),
    ]);
  const names: string[] = [];
  for (let round = 0; round < kills; round++) {
    const name = `Bird${letters(round)}x`;
    const answer = await app.send(crash(name)).catch(() => null);
    if (answer?.status === 202) names.push(name);
    // From before the report is processed to after its message has left.
    await pause(((round * 7_919) % 30) * 100);
    await hurry();
    await pause((round % 4) * 250);
    await server.kill();
    server = await startProduct(folder, environment);
  }
  expect(names.length).toBeGreaterThan(0);
  const told = (way: string, name: string) => standIns.list().filter((one) => one.way === way && one.text.includes(`${name}.sit`));
  const left = async (table: string, where: string) => {
    const [[row]] = (await database.query(`SELECT COUNT(*) AS count FROM ${table} WHERE ${where}`)) as unknown as [[{ count: number }]];
    return row.count;
  };
  await expect
    .poll(
      async () => {
        await hurry();
        const counts = [await left('jobs', 'TRUE'), await left('alert_facts', 'TRUE'), await left('deliveries', 'NOT is_done')];
        return [...counts, await left('messages', "state = 'waiting'")];
      },
      { timeout: 150_000, interval: 500 },
    )
    .toEqual([0, 0, 0, 0]);
  await database.end();
  const ids = (way: string, name: string) => new Set(told(way, name).map((one) => one.id)).size;
  expect(names.map((name) => [name, told('webhook', name).length, ids('mail', name)])).toEqual(names.map((name) => [name, 1, 1]));
}, 3_600_000);
