import { statfs } from 'node:fs/promises';
import type { Services } from '../services.ts';
import type { DatabaseState } from './database-health.ts';

/** Below this the data folder takes no symbol file. */
const leastFreeBytes = 64 * 1024 * 1024;

export interface Readiness {
  readonly status: 'ready' | 'not ready';
  readonly database: DatabaseState;
  /** Of the data folder. */
  readonly disk: 'ready' | 'full';
}

/** Whether this process can take what is sent and answer what is asked. */
export async function readiness({ health, settings }: Pick<Services, 'health' | 'settings'>): Promise<Readiness> {
  const [database, isFull] = await Promise.all([health.check(), isDiskFull(settings.dataFolder)]);
  return { status: database === 'ready' && !isFull ? 'ready' : 'not ready', database, disk: isFull ? 'full' : 'ready' };
}

async function isDiskFull(folder: string): Promise<boolean> {
  try {
    const { bavail, bsize } = await statfs(folder);
    return bavail * bsize < leastFreeBytes;
  } catch {
    // A folder that nobody has made yet is on no disk.
    return false;
  }
}
