import { copyFile, mkdir, readdir, utimes } from 'node:fs/promises';
import { join } from 'node:path';
import type { Database } from '@rough-ember/store/database';
import { listMigrations } from '@rough-ember/store/migrate';
import { BackupProblem, checkBackup, contentPath, listBackups, type Manifest, readManifest } from './backup-folder.ts';
import { loadDump } from './dump-database.ts';
import { databasePart, keyFile, triggersPart } from './make-backup.ts';

/** Which backup is meant: one that is named, or the newest of a folder. Throws a BackupProblem where there is none. */
export async function findBackup(path: string): Promise<{ readonly folder: string; readonly name: string; readonly manifest: Manifest }> {
  const last = (await listBackups(path)).at(-1);
  const at = path.lastIndexOf('/');
  const [folder, name] = last !== undefined ? [path, last] : [path.slice(0, Math.max(0, at)) || '.', path.slice(at + 1)];
  return { folder, name, manifest: await readManifest(folder, name) };
}

/** Refuses a place that holds something: nothing is ever written over. */
async function requireEmpty(database: Database, dataFolder: string): Promise<void> {
  const [tables] = (await database.raw('SHOW TABLES')) as [unknown[]];
  if (tables.length > 0) throw new BackupProblem('The database is not empty; restore into an empty one.');
  const files = await readdir(join(dataFolder, 'symbols'), { recursive: true, withFileTypes: true }).catch(() => []);
  if (files.some((one) => one.isFile()))
    throw new BackupProblem(`${join(dataFolder, 'symbols')} is not empty; restore into an empty data folder.`);
}

/** Puts a backup into an empty database and data folder, after looking at every byte of it. */
export async function restoreBackup(
  { database, dataFolder }: { database: Database; dataFolder: string },
  { folder, name, manifest }: Awaited<ReturnType<typeof findBackup>>,
): Promise<void> {
  await requireEmpty(database, dataFolder);
  const newest = Number.parseInt(listMigrations().at(-1)?.name ?? '0', 10);
  if (manifest.schema > newest)
    throw new BackupProblem(
      `The backup is of version ${manifest.version}, schema ${manifest.schema}; this program knows up to ${newest}. Use that version or a newer one.`,
    );
  const problems = await checkBackup(folder, name, manifest);
  if (problems.length > 0)
    throw new BackupProblem(
      `The backup ${name} cannot be used: ${problems.slice(0, 3).join(', ')}${problems.length > 3 ? ' and more' : ''}.`,
    );
  for (const { path, sha256, modifiedMs } of manifest.files) {
    const target = join(dataFolder, path);
    await mkdir(join(target, '..'), { recursive: true });
    await copyFile(contentPath(folder, sha256), target);
    await utimes(target, modifiedMs / 1_000, modifiedMs / 1_000);
  }
  if (manifest.hasKey) await copyFile(join(folder, name, keyFile), join(dataFolder, keyFile));
  await loadDump(database, { from: join(folder, name, databasePart), triggers: join(folder, name, triggersPart) });
}
