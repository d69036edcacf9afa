import type { Database } from '@rough-ember/store/database';
import { freshDatabase } from '@rough-ember/store/testing/fresh-database';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { DatabaseHealth } from './database-health.ts';

let database: Database;
let remove: () => Promise<void>;
let health: DatabaseHealth;
beforeAll(async () => {
  ({ database, remove } = await freshDatabase());
  health = new DatabaseHealth(database);
});
afterAll(async () => {
  await health.close();
  await remove();
});

/** Keeps this process from everything else, as a module that is being loaded does. */
function block(ms: number): void {
  const end = performance.now() + ms;
  while (performance.now() < end);
}

it('does not lay on the database that the process itself was busy while the answer came', async () => {
  const first = health.check();
  block(2_000);
  expect(await first).toBe('ready');
  const second = health.check();
  await new Promise(setImmediate);
  block(2_000);
  expect(await second).toBe('ready');
});

it('tells a database that takes no changes', async () => {
  const holder = await database.transaction();
  await holder.raw('SELECT id FROM migration_lease WHERE id = 1 FOR UPDATE');
  expect(await health.check()).toBe('frozen');
  await holder.rollback();
  await expect.poll(() => health.check()).toBe('ready');
});
