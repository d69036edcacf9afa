import { type ChildProcess, spawn } from 'node:child_process';
import { once } from 'node:events';
import { setTimeout as pause } from 'node:timers/promises';
import { fileURLToPath } from 'node:url';
import { afterEach, beforeAll, describe, expect, it } from 'vitest';
import { lastChange, listReturns, listTurns } from './case-events.ts';
import type { Database } from './database.ts';
import { readRules } from './grouping-changes.ts';
import { listIntakeLog } from './intake-log.ts';
import { listMigrations, migrate } from './migrate.ts';
import { findReport } from './reports.ts';
import { caseStatusForm } from './stored-forms.ts';
import { readStored } from './stored-json.ts';
import { loadEarlierDatabase } from './testing/earlier-database.ts';
import { freshDatabase } from './testing/fresh-database.ts';
import { uuidText } from './uuid.ts';

type Fresh = Awaited<ReturnType<typeof freshDatabase>>;
const made: Fresh[] = [];
const empty = async (): Promise<Fresh> => {
  const fresh = await freshDatabase({ migrated: false });
  made.push(fresh);
  return fresh;
};
afterEach(async () => {
  for (const fresh of made.splice(0)) await fresh.remove();
});

/** Every table and trigger as the database would make it again. */
async function schemaOf(database: Database): Promise<Record<string, string>> {
  const [tables] = await database.raw('SHOW TABLES');
  const schema: Record<string, string> = {};
  for (const table of tables.map((row: object) => String(Object.values(row)[0])).sort()) {
    // The record of what ran was made by another tool at first.
    if (table === 'migrations') continue;
    const [[shown]] = await database.raw('SHOW CREATE TABLE ??', [table]);
    schema[table] = shown['Create Table'].replace(/ AUTO_INCREMENT=\d+/, '');
  }
  const [triggers] = await database.raw('SHOW TRIGGERS');
  for (const { Trigger, Statement, Timing, Event } of triggers) schema[Trigger] = `${Timing} ${Event} ${Statement}`;
  return schema;
}

let whole: Record<string, string>;
beforeAll(async () => {
  const { database, remove } = await freshDatabase();
  whole = await schemaOf(database);
  await remove();
});

/** A process of its own that migrates, as a server that starts does. */
function migrating(url: string): ChildProcess {
  const code = `const { openDatabase } = await import('./database.ts'); const { migrate } = await import('./migrate.ts');
    const database = openDatabase(process.argv[1]); console.log('begun'); await migrate(database); console.log('done'); await database.destroy();`;
  return spawn(process.execPath, ['--import', 'tsx', '--input-type=module', '-e', code, url], {
    cwd: fileURLToPath(new URL('.', import.meta.url)),
    stdio: ['ignore', 'pipe', 'inherit'],
  });
}

describe('each step of the schema', () => {
  it('may be taken twice, as it is when its process is killed before it is recorded', async () => {
    const { database } = await empty();
    for (const step of listMigrations()) {
      await migrate(database, listMigrations().slice(0, listMigrations().findIndex(({ name }) => name === step.name) + 1));
      await database.raw(step.sql);
    }
    expect(await schemaOf(database)).toEqual(whole);
  });

  it('is taken on from wherever a process was killed', async () => {
    const { database, url } = await empty();
    let kills = 0;
    for (let waitMs = 0; ; waitMs += 40) {
      const child = migrating(url);
      const ended = once(child, 'exit');
      // The clock of the kill begins with the first statement, so that each of them has its turn on any machine.
      await Promise.race([once(child.stdout as NodeJS.ReadableStream, 'data'), ended]);
      await Promise.race([pause(waitMs), ended]);
      child.kill('SIGKILL');
      await ended;
      if (child.signalCode !== 'SIGKILL') break;
      kills++;
      // Nobody holds a lease longer than it takes to find that its holder is gone; here no time is lost to that.
      await database('migration_lease')
        .update({ held_until: '2000-01-01' })
        .catch(() => {});
      if (
        (
          await database('migrations')
            .count({ count: '*' })
            .catch(() => [{ count: 0 }])
        )[0]?.count === listMigrations().length
      )
        break;
    }
    await migrate(database);
    expect(kills).toBeGreaterThan(3);
    expect(await schemaOf(database)).toEqual(whole);
  });
});

describe('of several processes', () => {
  it('one migrates, the others wait, and all start', async () => {
    const { database, url } = await empty();
    const children = Array.from({ length: 4 }, () => migrating(url));
    const codes = await Promise.all(children.map(async (child) => (await once(child, 'exit'))[0]));
    expect(codes).toEqual([0, 0, 0, 0]);
    expect(await database('migrations').orderBy('id').pluck('name')).toEqual(listMigrations().map(({ name }) => name));
    expect(await schemaOf(database)).toEqual(whole);
  });

  it('the next takes over from one that was killed with the lease in its hand', async () => {
    const { database } = await empty();
    await migrate(database, listMigrations().slice(0, 3));
    await database('migration_lease').update({
      holder: 'a process that is gone',
      held_until: database.raw('UTC_TIMESTAMP(3) + INTERVAL 3 SECOND'),
    });
    expect(await migrate(database)).toHaveLength(listMigrations().length - 3);
  });

  it('one of an older version leaves what a newer one made alone', async () => {
    const { database } = await empty();
    await migrate(database);
    await expect(migrate(database, listMigrations().slice(0, 60))).rejects.toThrow(/newer version/);
  });
});

describe('a database of an earlier version', () => {
  it.each(['074', '100'])('%s becomes one of today, with all that was in it', async (name) => {
    const { database } = await empty();
    await loadEarlierDatabase(database, name);
    const counted = async () =>
      Object.fromEntries(
        await Promise.all(
          ['reports', 'report_bodies', 'cases', 'sessions', 'session_days', 'accounts', 'intake_keys', 'intake_log'].map(
            async (table) => [table, Number((await database(table).count({ count: '*' }))[0]?.count)] as const,
          ),
        ),
      );
    const before = await counted();
    expect(before).toMatchObject({ reports: 10, sessions: 30, accounts: 1 });
    await database('intake_keys').update({ rules: JSON.stringify({ apartBuildTypes: ['beta'], sessions: false }) });
    const line = { line: 1, outcome: 'apart', what: 'report', reason: 'beta' };
    await database('intake_log')
      .orderBy('id')
      .limit(1)
      .update({ details: JSON.stringify([line]) });
    await migrate(database);
    expect(await counted()).toEqual(before);
    expect(await schemaOf(database)).toEqual(whole);
    // No case moves before somebody has seen what another way of grouping would do.
    const [app] = await database('apps').select('id');
    expect(await readRules(database, app.id)).toBe('algorithm 1');
    // Everything that it kept as JSON is read as it is today.
    expect(await listIntakeLog(database, { appId: app.id, strangers: true, limit: 1_000 })).toHaveLength(Number(before.intake_log));
    const reportIds: Buffer[] = await database('reports').where({ app_id: app.id }).pluck('report_id');
    for (const id of reportIds) expect((await findReport(database, app.id, uuidText(id)))?.report.version).toBeTruthy();
    for (const caseId of await database('cases').pluck('id')) {
      const statuses: unknown[] = await lastChange(database, caseId).pluck('before_status');
      for (const status of statuses) expect(readStored(caseStatusForm, status)).toHaveProperty('state');
    }
    await listReturns(database, app.id);
    await listTurns(database, app.id, new Date(0));
    // What is called otherwise now means the same.
    expect(await database('intake_keys').first('rules')).toEqual({ rules: { excludedBuildTypes: ['beta'], sessions: false } });
    expect(await database('intake_log').orderBy('id').first('details')).toMatchObject({ details: [{ line: 1, outcome: 'excluded' }] });
    // One request that cannot be read says so, and does not take the log away.
    await database('intake_log').orderBy('id', 'desc').limit(1).update({ details: '[{"line":"?"}]', reason: null });
    const [unread] = await listIntakeLog(database, { appId: app.id, strangers: true, limit: 1_000 });
    expect(unread).toMatchObject({ lines: [], reason: expect.stringContaining('intake_log.details') });
  });
});
