import { defaultScope } from '@rough-ember/core/scope/scope';
import { onlyCrashes } from '@rough-ember/core/stability/figures';
import { addressOf } from '@rough-ember/store/database';
import mysql from 'mysql2/promise';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { fillLargeSessions } from '../../../scripts/bench/large-sessions.ts';
import { loadCrashFree } from '../stability/crash-free.ts';
import { startTestServer, type TestServer } from '../testing/test-server.ts';

let server: TestServer;
let connection: mysql.Connection;
beforeAll(async () => {
  server = await startTestServer();
  connection = await mysql.createConnection({ uri: addressOf(server.database), multipleStatements: true });
});
afterAll(async () => {
  await connection?.end();
  await server?.stop();
});

it('sessions that are filled in as the benches do it are read as any others', async () => {
  const { services, app } = server;
  const now = new Date();
  // Somebody may have looked at it while it was empty.
  expect(await services.sessions.ask('size', app.id)).toBe(0);
  const { sums } = await fillLargeSessions(connection, app.id, { sessions: 18_000, persons: 900 });
  await expect.poll(() => services.sessions.ask('size', app.id)).toBe(sums);
  const { total, byVersion } = await loadCrashFree(services, {
    app,
    scope: { ...defaultScope, days: 90 },
    now,
    count: onlyCrashes,
    exact: 'exact',
  });
  expect(total.sessions).toBeGreaterThan(sums);
  expect(byVersion.length).toBeGreaterThan(5);
});
