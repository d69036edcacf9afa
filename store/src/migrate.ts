import { randomUUID } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import { setTimeout as pause } from 'node:timers/promises';
import { addressOf, type Database, isRetryable, openDatabase, retried } from './database.ts';

/** One change of the schema. It may run again after it was cut short, so each does nothing where it is done already. */
export interface Migration {
  readonly name: string;
  readonly sql: string;
}

/** Every change of the schema in order, a file each; forward only. What a released one does is never changed. */
export function listMigrations(): Migration[] {
  const folder = new URL('./migrations/', import.meta.url);
  return readdirSync(folder)
    .filter((file) => file.endsWith('.sql'))
    .sort()
    .map((file) => ({ name: file.slice(0, -'.sql'.length), sql: readFileSync(new URL(file, folder), 'utf8') }));
}

/**
 * Brings the schema up to date and gives the names of the migrations that ran here. Of several processes one migrates, on
 * whichever node of a cluster it is, and the others wait until it is done. Schema changes cannot be rolled back in MariaDB:
 * whoever is killed in between leaves a step that is not recorded, and the next one takes it again.
 */
export async function migrate(database: Database, migrations: readonly Migration[] = listMigrations()): Promise<string[]> {
  // A change of the schema waits for whoever reads the table meanwhile, however long that takes.
  const patient = openDatabase(addressOf(database), { connections: 3, lockWaitSeconds: 3_600 });
  try {
    return await migrateWith(patient, migrations);
  } finally {
    await patient.destroy();
  }
}

async function migrateWith(database: Database, migrations: readonly Migration[]): Promise<string[]> {
  await makeTables(database);
  const lease = new Lease(database);
  try {
    for (;;) {
      const pending = await pendingOf(database, migrations);
      if (pending.length === 0) return [];
      if (await lease.take()) break;
      await pause(leasePollMs);
    }
    // Another one may have finished in the moment before the lease was free.
    const ran: string[] = [];
    for (const migration of await pendingOf(database, migrations)) {
      lease.check();
      await retried(() => database.raw(migration.sql));
      const record = { name: migration.name, batch: 1, migration_time: database.raw('UTC_TIMESTAMP()') };
      await retried(() => database('migrations').insert(record));
      ran.push(migration.name);
    }
    return ran;
  } finally {
    await lease.giveUp();
  }
}

/** The number of the last change that the schema has. */
export async function schemaVersion(database: Database): Promise<number> {
  const row = await database('migrations').max({ last: 'name' }).first();
  return Number.parseInt(String(row?.last ?? 0), 10);
}

/** The record of what ran has the form it had from the first version on. */
async function makeTables(database: Database): Promise<void> {
  await database.raw(`CREATE TABLE IF NOT EXISTS migrations (
    id INT UNSIGNED PRIMARY KEY AUTO_INCREMENT, name VARCHAR(255), batch INT, migration_time TIMESTAMP NULL DEFAULT CURRENT_TIMESTAMP)`);
  await database.raw(`CREATE TABLE IF NOT EXISTS migration_lease (
    id TINYINT UNSIGNED PRIMARY KEY, holder CHAR(36) CHARACTER SET ascii NOT NULL, held_until DATETIME(3) NOT NULL)`);
  await retried(() => database.raw("INSERT IGNORE INTO migration_lease (id, holder, held_until) VALUES (1, '', '2000-01-01')"));
}

/** A database that went further than this program is another program's: nothing is done to it. */
async function pendingOf(database: Database, migrations: readonly Migration[]): Promise<Migration[]> {
  const recorded = new Set<string>(await database('migrations').pluck('name'));
  const known = new Set(migrations.map(({ name }) => name));
  const newer = [...recorded].find((name) => !known.has(name));
  if (newer !== undefined)
    throw new Error(
      `the database was brought up to date by a newer version of the program ("${newer}" is not known to this one); start that version`,
    );
  return migrations.filter(({ name }) => !recorded.has(name));
}

const leaseSeconds = 12;
const leasePollMs = 300;

/** The right to migrate: a row that is everybody's on all nodes, and that falls to the next when its holder is gone. */
class Lease {
  private readonly holder = randomUUID();
  private renewing: ReturnType<typeof setInterval> | null = null;
  private lost = false;

  constructor(private readonly database: Database) {}

  /** Takes the lease if nobody holds it. */
  async take(): Promise<boolean> {
    if (!(await this.write('held_until < UTC_TIMESTAMP(3)'))) return false;
    this.renewing = setInterval(
      () => {
        this.write(`holder = '${this.holder}'`).then(
          (held) => {
            this.lost ||= !held;
          },
          () => {}, // the next turn tries again, and the lease outlasts three of them
        );
      },
      (leaseSeconds * 1000) / 4,
    );
    return true;
  }

  /** Throws when another process has taken over, because this one did not get to renew its lease. */
  check(): void {
    if (this.lost) throw new Error('another process has taken over migrating this database; start again');
  }

  private async write(condition: string): Promise<boolean> {
    try {
      const [{ affectedRows }] = await this.database.raw(
        `UPDATE migration_lease SET holder = ?, held_until = UTC_TIMESTAMP(3) + INTERVAL ? SECOND WHERE id = 1 AND ${condition}`,
        [this.holder, leaseSeconds],
      );
      return affectedRows > 0;
    } catch (error) {
      // On a cluster the other node's change was first.
      if (isRetryable(error)) return false;
      throw error;
    }
  }

  async giveUp(): Promise<void> {
    if (this.renewing === null) return;
    clearInterval(this.renewing);
    await retried(() => this.database('migration_lease').where({ id: 1, holder: this.holder }).update({ held_until: '2000-01-01' }));
  }
}
