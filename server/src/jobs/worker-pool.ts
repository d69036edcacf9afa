import { availableParallelism } from 'node:os';
import { addressOf, type Database } from '@rough-ember/store/database';
import { Piscina } from 'piscina';
import { threadEntry } from '../thread-entry.ts';
import type { Tasks } from './tasks.ts';

/** Runs tasks on worker threads, so that nothing heavy holds up a request. */
export interface WorkerPool {
  run<Name extends keyof Tasks>(name: Name, ...input: Parameters<Tasks[Name]>): Promise<Awaited<ReturnType<Tasks[Name]>>>;
  close(): Promise<void>;
}

export function startWorkerPool(database: Database, { threads = availableParallelism() }: { threads?: number } = {}): WorkerPool {
  const pool = new Piscina({
    filename: threadEntry('worker').href,
    minThreads: 1,
    maxThreads: threads,
    idleTimeout: 60_000,
    // A thread that sleeps between tasks would leave its connections to the database unattended.
    atomics: 'disabled',
    workerData: { databaseUrl: addressOf(database) },
    resourceLimits: { maxOldGenerationSizeMb: 3072 },
  });
  return {
    run: (name, ...input) => pool.run({ name, input }),
    close: () => pool.close({ force: false }),
  };
}
