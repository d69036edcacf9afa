import { resolve } from 'node:path';
import { BackupProblem, checkBackup, pruneBackups } from '@rough-ember/server/backup/backup-folder';
import { makeBackup, nameOfBackup } from '@rough-ember/server/backup/make-backup';
import { findBackup } from '@rough-ember/server/backup/restore-backup';
import { beginBackup, finishBackup } from '@rough-ember/store/backups';
import { mariadbClient, requireProgram } from './debian.ts';
import { onDataFolder } from './on-data-folder.ts';

const leaseMs = 24 * 3_600_000;

/**
 * `npm run backup -- <folder> [--keep n]`: backs everything up into a folder, beside a server that is running; `--check` looks at every byte
 * of the newest one there instead.
 */
export async function main(words: string[] = []): Promise<number> {
  const [folder] = words.filter((word, at) => !word.startsWith('--') && words[at - 1] !== '--keep');
  const keep = words.includes('--keep') ? Number(words[words.indexOf('--keep') + 1]) : null;
  if (folder === undefined || (keep !== null && !(Number.isInteger(keep) && keep > 0))) {
    console.error(
      'Say where to: npm run backup -- <folder> [--keep <how many>]; or look at the newest one: npm run backup -- <folder> --check',
    );
    return 2;
  }
  if (words.includes('--check')) return check(resolve(folder));
  requireProgram(mariadbClient);
  return onDataFolder(({ dataFolder }, database) =>
    told(async () => {
      const [into, name, now] = [resolve(folder), nameOfBackup(new Date()), new Date()];
      const id = await beginBackup(database, { folder: into, name, now, leaseMs, retryMs: 0 });
      try {
        const { bytes, manifest } = await makeBackup({ database, dataFolder }, { folder: into, name });
        if (id !== null) await finishBackup(database, id, { finishedAt: new Date(), bytes });
        console.log(`${into}/${name}: ${manifest.files.length} files and the database, ${Math.ceil(bytes / 1e6)} MB of it new`);
      } catch (error) {
        if (id !== null) await finishBackup(database, id, { problem: error instanceof Error ? error.message : String(error) });
        throw error;
      }
      if (keep !== null) console.log(`${await pruneBackups(into, keep)} older ones are gone`);
    }),
  );
}

const check = (folder: string): Promise<number> =>
  told(async () => {
    const found = await findBackup(folder);
    const problems = await checkBackup(found.folder, found.name, found.manifest);
    if (problems.length > 0) throw new BackupProblem(`${found.name} cannot be used: ${problems.join(', ')}.`);
    console.log(`${found.name} of version ${found.manifest.version} is whole: ${found.manifest.files.length} files and the database`);
  });

/** Does something, and says why where it cannot be done. */
export async function told(work: () => Promise<void>): Promise<number> {
  try {
    await work();
    return 0;
  } catch (error) {
    if (!(error instanceof BackupProblem)) throw error;
    console.error(error.message);
    return 1;
  }
}
