import { mkdirSync } from 'node:fs';
import { resolve } from 'node:path';
import { findBackup, restoreBackup } from '@rough-ember/server/backup/restore-backup';
import { readSettings } from '@rough-ember/server/settings';
import { told } from './backup.ts';
import { mariadbClient, requireProgram } from './debian.ts';
import { onDataFolder } from './on-data-folder.ts';

/**
 * `npm run restore -- <folder or backup>`: puts the newest backup of a folder, or one that is named, into an empty data folder and database,
 * those that the environment names. `npm start` goes on with it.
 */
export async function main([path]: string[] = []): Promise<number> {
  if (path === undefined) {
    console.error('Say which: npm run restore -- <folder of backups, or one of them>');
    return 2;
  }
  requireProgram(mariadbClient);
  return told(async () => {
    const backup = await findBackup(resolve(path));
    mkdirSync(readSettings(process.env).dataFolder, { recursive: true, mode: 0o700 });
    await onDataFolder(async ({ dataFolder }, database) => {
      await restoreBackup({ database, dataFolder }, backup);
      return 0;
    });
    console.log(`${backup.name} is restored: ${backup.manifest.files.length} files and the database. npm start goes on with it.`);
  });
}
