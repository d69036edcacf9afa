import { createRequire } from 'node:module';
import { availableParallelism } from 'node:os';
import { pathToFileURL } from 'node:url';
import { Piscina } from 'piscina';
import type { Tasks } from './tasks.ts';

/** Runs tasks on worker threads, so that nothing heavy holds up a request. */
export interface WorkerPool {
  run<Name extends keyof Tasks>(name: Name, ...input: Parameters<Tasks[Name]>): Promise<Awaited<ReturnType<Tasks[Name]>>>;
  close(): Promise<void>;
}

export function startWorkerPool({ threads = availableParallelism() }: { threads?: number } = {}): WorkerPool {
  const pool = new Piscina({
    filename: new URL('./worker.ts', import.meta.url).href,
    // The worker is TypeScript, like everything else; tsx compiles it as the thread loads it.
    execArgv: ['--import', pathToFileURL(createRequire(import.meta.url).resolve('tsx')).href],
    minThreads: 1,
    maxThreads: threads,
    idleTimeout: 60_000,
    resourceLimits: { maxOldGenerationSizeMb: 3072 },
  });
  return {
    run: (name, ...input) => pool.run({ name, input }),
    close: () => pool.close({ force: false }),
  };
}
