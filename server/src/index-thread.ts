import { listApps } from '@rough-ember/store/apps';
import { addressOf, type Database, openDatabase } from '@rough-ember/store/database';
import { Piscina } from 'piscina';
import { tellConflicts } from './metrics/conflicts-of-threads.ts';
import { threadEntry } from './thread-entry.ts';

/** Questions that a thread answers from what it keeps in memory; each takes the index of the app first. */
export type Questions<Index> = Readonly<Record<string, (index: Index, ...rest: never[]) => unknown>>;

/** The arguments of a question behind the index. */
type Asked<Question> = Question extends (index: never, ...rest: infer Rest) => unknown ? Rest : never;
type Answer<Question> = Question extends (...all: never[]) => infer Given ? Given : never;

/** A thread that is asked about an app; what it says is true of the moment of asking, or of one shortly before. */
export interface IndexThread<All> {
  ask<Name extends keyof All>(name: Name, appId: number, ...rest: Asked<All[Name]>): Promise<Answer<All[Name]>>;
  close(): Promise<void>;
}

/**
 * Starts a thread that keeps something of every app in memory. It is a copy that is made from the database and follows it, so
 * that several processes may each have one.
 */
export function startIndexThread<All>(
  entry: Parameters<typeof threadEntry>[0],
  database: Database,
  { beforeClose }: { beforeClose?: keyof All & string } = {},
): IndexThread<All> {
  const pool = new Piscina({
    filename: threadEntry(entry).href,
    minThreads: 1,
    maxThreads: 1,
    // What a question waits for is the database; the others go on meanwhile.
    concurrentTasksPerWorker: 64,
    // A thread that sleeps between tasks would leave what it still does, such as a transaction, hanging until the next one.
    atomics: 'disabled',
    idleTimeout: Number.POSITIVE_INFINITY,
    workerData: { databaseUrl: addressOf(database) },
    resourceLimits: { maxOldGenerationSizeMb: 4096 },
  });
  return {
    ask: (name, appId, ...rest) => pool.run({ name, appId, rest }),
    close: async () => {
      if (beforeClose !== undefined) await pool.run({ name: beforeClose, appId: 0, rest: [] }).catch(() => {});
      await pool.destroy();
    },
  };
}

/** The database of a thread that was started as above. */
export function databaseOfThread(workerData: unknown): Database {
  // Piscina hands its own data over beside ours.
  const { databaseUrl } = (Array.isArray(workerData) ? workerData[1] : workerData) as { databaseUrl: string };
  tellConflicts();
  return openDatabase(databaseUrl, { connections: 4 });
}

/** Lets go of what is kept of apps that were deleted: it counts nothing any more, and can be kept nowhere. */
export async function dropDeleted(database: Database, indexes: Map<number, unknown>): Promise<void> {
  const there = new Set((await listApps(database)).map(({ id }) => id));
  for (const id of indexes.keys()) if (!there.has(id)) indexes.delete(id);
}

/** What a thread is asked, as it arrives. */
export interface ThreadTask {
  readonly name: string;
  readonly appId: number;
  readonly rest: readonly unknown[];
}
