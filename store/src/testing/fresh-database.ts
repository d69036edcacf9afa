import { randomBytes } from 'node:crypto';
import { inject } from 'vitest';
import { type App, createApp } from '../apps.ts';
import { type Database, openDatabase } from '../database.ts';
import { migrate } from '../migrate.ts';

/** An empty database with the current schema, for one test file. */
export async function freshDatabase({ migrated = true } = {}): Promise<{ database: Database; url: string; remove(): Promise<void> }> {
  const base = inject('databaseUrl');
  const name = `test_${randomBytes(6).toString('hex')}`;
  const maker = openDatabase(base, { connections: 1 });
  await maker.raw('CREATE DATABASE ??', [name]);
  await maker.destroy();
  const url = new URL(base);
  url.pathname = `/${name}`;
  const database = openDatabase(url.href);
  if (migrated) await migrate(database);
  return {
    database,
    url: url.href,
    remove: async () => {
      await database.raw('DROP DATABASE ??', [name]);
      await database.destroy();
    },
  };
}

let apps = 0;

/** A new app; `prefix` and slug are its own. */
export async function makeApp(database: Database): Promise<App> {
  apps++;
  const app = await createApp(database, {
    slug: `app-${apps}`,
    name: `App ${apps}`,
    prefix: `T${apps}`,
    platforms: ['Android'],
    ourPackages: ['com.larkfield'],
  });
  if (!app) throw new Error('the app is there already');
  return app;
}
