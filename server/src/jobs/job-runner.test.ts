import { randomUUID } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { reportSchema } from '@rough-ember/core/report/report';
import type { App } from '@rough-ember/store/apps';
import type { Database } from '@rough-ember/store/database';
import { listFailures, queueForgotten, retryFailed, retryFailedOfOtherPrograms } from '@rough-ember/store/failed-reports';
import { countAllJobs, queueJobs } from '@rough-ember/store/jobs';
import { freshDatabase, makeApp } from '@rough-ember/store/testing/fresh-database';
import { storeReports } from '@rough-ember/store/testing/store-reports';
import { pino } from 'pino';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { openSymbolStore, type SymbolStore } from '../symbols/symbol-store.ts';
import { type JobRunner, startJobRunner } from './job-runner.ts';
import type { Tasks } from './tasks.ts';
import { startWorkerPool, type WorkerPool } from './worker-pool.ts';

const log = pino({ level: 'silent' });
const folder = mkdtempSync(join(tmpdir(), 'ember-jobs-'));
let database: Database;
let remove: () => Promise<void>;
let symbols: SymbolStore;
let workers: WorkerPool;
let app: App;
let runners: JobRunner[] = [];
const noted: number[] = [];

beforeAll(async () => {
  ({ database, remove } = await freshDatabase());
  symbols = await openSymbolStore(folder);
  workers = startWorkerPool(database, { threads: 2 });
});
afterAll(async () => {
  await workers.close();
  await remove();
  rmSync(folder, { recursive: true });
});
beforeEach(async () => {
  app = await makeApp(database);
  noted.length = 0;
});
afterEach(async () => {
  await Promise.all(runners.map((runner) => runner.stop()));
  runners = [];
});

const run = (pool: WorkerPool = workers) => {
  const changes = { note: (appId: number) => void noted.push(appId), flush: async () => {} };
  runners.push(
    startJobRunner({
      database,
      symbols,
      workers: pool,
      pressure: { isHigh: false },
      changes,
      metrics: { noteJob: () => {} },
      log,
      program: 'this',
    }),
  );
};

async function arrive(count: number): Promise<number[]> {
  const reports = Array.from({ length: count }, () =>
    reportSchema.parse({
      id: randomUUID(),
      kind: 'crash',
      occurredAt: new Date().toISOString(),
      version: '1',
      build: '1',
      exceptions: [{ type: 'a.B', frames: [{ runtime: 'jvm', class: 'com.larkfield.A', method: 'b', file: 'A.kt', line: 1 }] }],
    }),
  );
  await storeReports(database, { appId: app.id, reports, receivedAt: new Date() });
  const rows = await database('reports').where({ app_id: app.id }).select('id');
  return rows.map((row) => row.id);
}

const states = async () => {
  const rows = await database('reports').where({ app_id: app.id }).select('state', 'problem');
  return rows.map((row) => (row.problem ? `${row.state}: ${row.problem}` : row.state)).sort();
};
const settled = () => expect.poll(() => countAllJobs(database), { interval: 50 }).toBe(0);
/** Makes jobs due that were given back, so that a test need not wait for the pauses between attempts. */
const hurry = setInterval(
  () =>
    void database?.('jobs')
      .where('run_after', '<', database.raw('UTC_TIMESTAMP(3) + INTERVAL 40 SECOND'))
      .update({ run_after: database.raw('UTC_TIMESTAMP(3)') })
      .catch(() => {}),
  100,
);
afterAll(() => clearInterval(hurry));

describe('the job runner', () => {
  it('processes what was accepted before it was started, and tells the screens', async () => {
    await arrive(30);
    run();
    await settled();
    expect(new Set(await states())).toEqual(new Set(['processed']));
    expect(noted).toContain(app.id);
  });

  it('keeps a report that cannot be processed with its reason, and the others of its batch go on', async () => {
    const [first] = await arrive(5);
    await database('report_bodies').where({ report_row: first }).update({ body: '{"exceptions": "nonsense"' });
    run();
    await settled();
    expect(await states()).toEqual([expect.stringMatching(/^failed: .*JSON/), 'processed', 'processed', 'processed', 'processed']);
    const { body } = await database('report_bodies').where({ report_row: first }).first('body');
    expect(body).toBe('{"exceptions": "nonsense"');
  });

  it('finds the one report that takes a worker down', async () => {
    const rows = await arrive(6);
    const fragile: WorkerPool = {
      run: (name, ...input) => {
        const jobs = name === 'processReports' ? (input as unknown as Parameters<Tasks['processReports']>)[0] : [];
        if (jobs.some((job) => job.subjectId === rows[2])) return Promise.reject(new Error('the worker died'));
        return workers.run(name, ...input);
      },
      close: async () => {},
    };
    run(fragile);
    await settled();
    expect(await states()).toEqual(['failed: the worker died', ...Array(5).fill('processed')]);
  });

  it('does not count a database that is away or full against a report', async () => {
    await arrive(30);
    let refusals = 40;
    const full: WorkerPool = {
      ...workers,
      run: (async (name: keyof Tasks, ...input: never[]) => {
        if (name !== 'processReports' || refusals <= 0) return workers.run(name, ...(input as never));
        refusals--;
        throw new Error("the database says ER_RECORD_FILE_FULL: The table 'report_bodies' is full");
      }) as WorkerPool['run'],
    };
    run(full);
    await settled();
    expect(refusals).toBe(0);
    expect(new Set(await states())).toEqual(new Set(['processed']));
  });

  it('does not let a report that ends its own connection keep the others of its batch back', async () => {
    const rows = await arrive(6);
    const tooLarge: WorkerPool = {
      ...workers,
      run: (async (name: keyof Tasks, ...input: never[]) => {
        const jobs = name === 'processReports' ? (input as unknown as Parameters<Tasks['processReports']>)[0] : [];
        if (jobs.some((job) => job.subjectId === rows[4])) throw new Error('the database cannot be reached: ECONNRESET');
        return workers.run(name, ...(input as never));
      }) as WorkerPool['run'],
    };
    run(tooLarge);
    await settled();
    expect(await states()).toEqual(['failed: the database cannot be reached: ECONNRESET', ...Array(5).fill('processed')]);
  });

  it('gives up what ended its process again and again, without taking others with it', async () => {
    const rows = await arrive(4);
    await database('jobs').where({ subject_id: rows[1] }).update({ attempts: 6 });
    run();
    await settled();
    expect(await states()).toEqual([
      expect.stringMatching(/^failed: its processing ended without a word/),
      'processed',
      'processed',
      'processed',
    ]);
  });

  it('leaves a kind of job that it does not know to those that do', async () => {
    const [row] = await arrive(1);
    await database('jobs').insert({ kind: 'of-a-newer-program', app_id: app.id, subject_id: row, priority: 1 });
    run();
    await expect.poll(states).toEqual(['processed']);
    expect(await database('jobs').where({ app_id: app.id }).pluck('kind')).toEqual(['of-a-newer-program']);
    await database('jobs').where({ app_id: app.id }).delete();
  });

  it('tries what failed again: one reason or all of it by hand, and what another program could not', async () => {
    const rows = await arrive(3);
    const fail = async () => {
      await database('reports').where({ app_id: app.id }).update({ state: 'failed', problem: 'no room', tried_by: 'this' });
      await database('jobs').where({ app_id: app.id }).delete();
    };
    await fail();
    await database('reports').where({ id: rows[0] }).update({ problem: 'another reason' });
    expect((await listFailures(database, app.id)).map(({ reason, reports }) => [reason, reports])).toEqual([
      ['no room', 2],
      ['another reason', 1],
    ]);
    expect(await retryFailed(database, app.id, { reason: 'another reason' })).toBe(1);
    expect(await retryFailedOfOtherPrograms(database, 'this')).toBe(0);
    expect(await retryFailedOfOtherPrograms(database, 'a newer one')).toBeGreaterThanOrEqual(2);
    run();
    await settled();
    expect(await states()).toEqual(Array(3).fill('processed'));
    await fail();
    expect(await retryFailed(database, app.id, { all: true })).toBe(3);
    await settled();
    expect(await states()).toEqual(Array(3).fill('processed'));
  });

  it('finds what waits without a job', async () => {
    await arrive(2);
    await database('jobs').where({ app_id: app.id }).delete();
    expect(await queueForgotten(database)).toBe(0);
    await database('reports')
      .where({ app_id: app.id })
      .update({ received_at: database.raw('UTC_TIMESTAMP() - INTERVAL 1 HOUR') });
    expect(await queueForgotten(database)).toBe(2);
    run();
    await settled();
    expect(await states()).toEqual(Array(2).fill('processed'));
  });

  it('shares one queue with other processes, each report processed once', async () => {
    await arrive(120);
    run();
    run();
    await settled();
    const [{ reports, cases }] = await database('reports')
      .where({ app_id: app.id })
      .select(database.raw('COUNT(*) AS reports, COUNT(DISTINCT case_id) AS cases'));
    expect([Number(reports), Number(cases)]).toEqual([120, 1]);
    expect(await states()).toEqual(Array(120).fill('processed'));
  });

  it('does not let reports wait for what nobody waits for, and is not stopped before that is done', async () => {
    let release = () => {};
    const slow = new Promise<void>((resolve) => {
      release = resolve;
    });
    const held: WorkerPool = {
      ...workers,
      run: (async (name: keyof Tasks, ...input: never[]) => {
        if (name === 'workJob') await slow;
        return workers.run(name, ...(input as never));
      }) as WorkerPool['run'],
    };
    await queueJobs(database, { kind: 'sweep-terms', appId: app.id, priority: 'again' }, [app.id]);
    run(held);
    await expect.poll(async () => (await database('jobs').where({ kind: 'sweep-terms' }).first('attempts'))?.attempts).toBe(1);
    await arrive(2);
    await expect.poll(states).toEqual(['processed', 'processed']);
    expect(await countAllJobs(database)).toBe(1);
    const stopped = Promise.all(runners.map((runner) => runner.stop()));
    release();
    await stopped;
    expect(await countAllJobs(database)).toBe(0);
  });

  it('drops a job whose subject is gone', async () => {
    await queueJobs(database, { kind: 'process-report', appId: app.id, priority: 'arrived' }, [987_654_321]);
    await queueJobs(database, { kind: 'index-symbol-file', appId: app.id, priority: 'symbols' }, [987_654_321]);
    run();
    await settled();
  });
});
