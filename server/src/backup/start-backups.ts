import { hourMs } from '@rough-ember/core/durations';
import { beginBackup, finishBackup, renewBackup } from '@rough-ember/store/backups';
import { reasonOf } from '@rough-ember/store/database-errors';
import { type RepeatedWork, repeatWork } from '../repeat-work.ts';
import type { Services } from '../services.ts';
import { pruneBackups } from './backup-folder.ts';
import { makeBackup, nameOfBackup } from './make-backup.ts';

const lookEveryMs = 60_000;
const leaseMs = 10 * 60_000;
const retryMs = hourMs;

type BackupServices = Pick<Services, 'settings' | 'database' | 'log'>;

/** Makes backups by themselves, where the settings name a folder: one in so many hours, in whichever process comes first. */
export function startBackups(services: BackupServices): RepeatedWork {
  if (services.settings.backup === undefined) return { stop: async () => {} };
  return repeatWork(services.log, 'a backup could not be made', [
    {
      everyMs: lookEveryMs,
      work: async () => {
        await backUpWhenDue(services, new Date());
        return false;
      },
    },
  ]);
}

/** Makes the backup of this stretch of time, unless it is made or being made; gives whether it was made now. */
export async function backUpWhenDue({ settings, database, log }: BackupServices, now: Date): Promise<boolean> {
  if (settings.backup === undefined) return false;
  const { folder, everyHours, keep } = settings.backup;
  const everyMs = everyHours * hourMs;
  const name = nameOfBackup(new Date(Math.floor(now.getTime() / everyMs) * everyMs));
  const id = await beginBackup(database, { folder, name, now, leaseMs, retryMs });
  if (id === null) return false;
  const renewing = setInterval(() => {
    renewBackup(database, id, new Date(Date.now() + leaseMs)).catch((error: unknown) => log.warn({ err: error }, 'a backup goes on'));
  }, leaseMs / 5);
  try {
    const { bytes } = await makeBackup({ database, dataFolder: settings.dataFolder }, { folder, name });
    await finishBackup(database, id, { finishedAt: new Date(), bytes });
    const pruned = await pruneBackups(folder, keep);
    log.info({ name, bytes, pruned }, 'a backup was made');
    return true;
  } catch (error) {
    await finishBackup(database, id, { problem: reasonOf(error) });
    log.error({ err: error }, 'a backup could not be made');
    return false;
  } finally {
    clearInterval(renewing);
  }
}
