import { type Database, openDatabase } from '@rough-ember/store/database';
import { afterAll, expect, it } from 'vitest';
import { ApiError } from './errors.ts';
import { startWorkerPool } from './jobs/worker-pool.ts';
import { toApiError } from './to-api-error.ts';

const nowhere: Database = openDatabase('mysql://nobody@127.0.0.1:9/nowhere');
afterAll(() => nowhere.destroy());

it('a database that cannot be reached is told as such, whoever asked it', async () => {
  const error = await nowhere.raw('SELECT 1').catch((problem: Error) => problem);
  expect(toApiError(error).code).toBe('unavailable');
  const workers = startWorkerPool(nowhere, { threads: 1 });
  const fromThread = await workers.run('commonSteps', [1]).catch((problem: Error) => problem);
  await workers.close();
  expect(fromThread).toMatchObject({ message: 'the database cannot be reached: ECONNREFUSED' });
  expect(toApiError(fromThread).code).toBe('unavailable');
});

it('a disk that is full is told as such', () => {
  expect(toApiError(new Error('ENOSPC: no space left on device, write')).code).toBe('disk-full');
});

it('what is told already stays as it is, and what is no error is ours', () => {
  const told = new ApiError('not-found', 'There is no such thing.');
  expect(toApiError(told)).toBe(told);
  expect(toApiError('a text').code).toBe('internal');
});
