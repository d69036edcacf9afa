import knex from 'knex';
import { expect, it } from 'vitest';
import { ApiError } from '../errors.ts';
import { toApiError } from './to-api-error.ts';

/** An error as it arrives from a thread: without its code and its class. */
const fromThread = (error: Error): Error => structuredClone(error);

it.each([
  ['connect ECONNREFUSED 127.0.0.1:3306', 'unavailable'],
  ['select `id` from `reports` - read ECONNRESET', 'unavailable'],
  ['BEGIN; - Connection lost: The server closed the connection.', 'unavailable'],
  ["ROLLBACK - Can't add new command when connection is in closed state", 'unavailable'],
  ['update `jobs` set `attempts` = 1 - Lock wait timeout exceeded; try restarting transaction', 'unavailable'],
  ["insert into `terms` values (1) - The table 'terms' is full", 'disk-full'],
  ['ENOSPC: no space left on device, write', 'disk-full'],
  ["insert into `t` values ('connect ECONNREFUSED 127.0.0.1:1') - Duplicate entry '1' for key 'PRIMARY'", 'internal'],
  ["insert into `t` values ('x - read ECONNRESET') - Unknown column 'y'", 'internal'],
  ['nothing of the kind', 'internal'],
])('"%s" is %s, also when it comes from a thread', (words, code) => {
  expect(toApiError(fromThread(new Error(words))).code).toBe(code);
});

it('a database that cannot be reached is told as such, whoever asked it', async () => {
  const away = knex({ client: 'mysql2', connection: 'mysql://nobody@127.0.0.1:9/nowhere', acquireConnectionTimeout: 5_000 });
  const error = await away.raw('SELECT 1').catch((problem: Error) => problem);
  await away.destroy();
  expect(toApiError(error).code).toBe('unavailable');
  expect(toApiError(fromThread(error)).code).toBe('unavailable');
});

it('what is told already stays as it is, and what is no error is ours', () => {
  const told = new ApiError('not-found', 'There is no such thing.');
  expect(toApiError(told)).toBe(told);
  expect(toApiError('a text').code).toBe('internal');
});
