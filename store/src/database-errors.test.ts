import { afterAll, beforeAll, expect, it } from 'vitest';
import type { Database } from './database.ts';
import { databaseFault, reasonOf } from './database-errors.ts';
import { freshDatabase } from './testing/fresh-database.ts';

let database: Database;
let remove: () => Promise<void>;
beforeAll(async () => {
  ({ database, remove } = await freshDatabase());
});
afterAll(() => remove());

/** An error as it arrives from a thread: of its words only what people are told. */
const fromThread = (error: unknown): Error => new Error(reasonOf(error));

const secret = 'ines@larkfield.example';
const failing = (errno: number) => `SELECT '${secret}'; SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = ${errno}, MESSAGE_TEXT = 'so it is'`;

it.each([
  [1114, 'full'],
  [1021, 'full'],
  [1053, 'away'],
  [1047, 'away'],
  [1213, 'away'],
  [1205, 'away'],
  [1062, null],
])('error %i of the database is the fault "%s", also when it comes from a thread, and tells no values', async (errno, fault) => {
  const statement = `BEGIN NOT ATOMIC ${failing(errno)}; END`;
  const error = await database.raw(statement).catch((problem: Error) => problem);
  expect(String(error)).toContain(secret);
  expect(databaseFault(error)).toBe(fault);
  expect(databaseFault(fromThread(error))).toBe(fault);
  expect(reasonOf(error)).toMatch(/^the database says ER_\w+: so it is$/);
  expect(reasonOf(fromThread(error))).toBe(reasonOf(error));
});

it('a connection that ends in the middle is the fault "away", and tells no values', async () => {
  const transaction = await database.transaction();
  const [[{ id }]] = await transaction.raw('SELECT CONNECTION_ID() AS id');
  const waiting = transaction.raw(`SELECT '${secret}', SLEEP(30)`).catch((problem: Error) => problem);
  await database.raw(`KILL ${id}`);
  const error = await waiting;
  await transaction.rollback().catch(() => {});
  expect(databaseFault(error)).toBe('away');
  expect(databaseFault(fromThread(error))).toBe('away');
  expect(reasonOf(error)).not.toContain(secret);
});

it.each([
  ["ROLLBACK - Can't add new command when connection is in closed state", 'away'],
  ['ENOSPC: no space left on device, write', 'full'],
  ["insert into `t` values ('connect ECONNREFUSED 127.0.0.1:1') - Duplicate entry '1' for key 'PRIMARY'", null],
  ["insert into `t` values ('x - read ECONNRESET') - Unknown column 'y'", null],
  ['nothing of the kind', null],
])('"%s" is the fault "%s"', (words, fault) => {
  expect(databaseFault(new Error(words))).toBe(fault);
});

it('what is no error is told in its own words', () => {
  expect(reasonOf('a text')).toBe('a text');
  expect(databaseFault('a text')).toBeNull();
});
