import { copyFile, mkdir, readdir, rm, stat } from 'node:fs/promises';
import { join, relative } from 'node:path';
import type { Database } from '@rough-ember/store/database';
import { schemaVersion } from '@rough-ember/store/migrate';
import { serverVersion } from '../server-version.ts';
import {
  BackupProblem,
  checkBackup,
  contentPath,
  keepContent,
  listBackups,
  type Manifest,
  measureFile,
  readManifest,
  writeManifest,
} from './backup-folder.ts';
import { dumpDatabase } from './dump-database.ts';

/** What of the data folder is backed up beside the database: symbol files with their indexes. */
const filesFolder = 'symbols';
const incoming = 'incoming';
export const keyFile = 'secret.key';
export const databasePart = 'database.sql.gz';
export const triggersPart = 'triggers.sql';

type FileEntry = Manifest['files'][number];

/** The name of a backup of a moment: it sorts by time. */
export const nameOfBackup = (at: Date): string => at.toISOString().slice(0, 19).replaceAll(':', '-');

/**
 * Makes a backup while everything goes on: the files that are there, the database as it is at one moment, and the files that came
 * meanwhile. A file that a row of the moment refers to lay there before it, so it is in the first or the second look. Contents that any
 * backup of the folder has are not copied again. Gives how many bytes are new.
 */
export async function makeBackup(
  { database, dataFolder }: { database: Database; dataFolder: string },
  { folder, name }: { folder: string; name: string },
): Promise<{ readonly bytes: number; readonly manifest: Manifest }> {
  const startedAt = new Date().toISOString();
  const own = join(folder, name);
  await rm(own, { recursive: true, force: true });
  await mkdir(own, { recursive: true, mode: 0o700 });
  const schema = await schemaVersion(database);
  const known = await filesOfLast(folder);
  const first = await keepFiles(folder, dataFolder, known);
  const [dump, triggers] = [join(own, databasePart), join(own, triggersPart)];
  const dumped = { name: databasePart, ...(await dumpDatabase(database, { into: dump, triggers })) };
  if ((await schemaVersion(database)) !== schema) throw new BackupProblem('The schema changed meanwhile; make the backup again.');
  const second = await keepFiles(folder, dataFolder, first.files);
  const measuredTriggers = await measureFile(triggers);
  const hasKey = await copyFile(join(dataFolder, keyFile), join(own, keyFile)).then(
    () => true,
    () => false,
  );
  const key = hasKey ? await measureFile(join(own, keyFile)) : null;
  const manifest: Manifest = {
    format: 1,
    version: serverVersion,
    schema,
    startedAt,
    finishedAt: new Date().toISOString(),
    parts: [
      dumped,
      ...(measuredTriggers ? [{ name: triggersPart, ...measuredTriggers }] : []),
      ...(key ? [{ name: keyFile, ...key }] : []),
    ],
    hasKey,
    files: [...new Map([...first.files, ...second.files]).values()],
  };
  const problems = await checkBackup(folder, name, { ...manifest, files: [] });
  if (problems.length > 0) throw new BackupProblem(`What was written does not read back: ${problems[0]}.`);
  await writeManifest(folder, name, manifest);
  return { bytes: dumped.bytes + first.bytes + second.bytes, manifest };
}

/** The files of the newest whole backup, by path: what has not changed since is not read again. */
async function filesOfLast(folder: string): Promise<Map<string, FileEntry>> {
  const last = (await listBackups(folder)).at(-1);
  if (last === undefined) return new Map();
  const manifest = await readManifest(folder, last).catch(() => null);
  return new Map(manifest?.files.map((file) => [file.path, file]));
}

/** Whether the content that an earlier backup named is still there, as long as it was. */
const hasContent = async (folder: string, { sha256, bytes }: FileEntry): Promise<boolean> =>
  (await stat(contentPath(folder, sha256)).catch(() => null))?.size === bytes;

/** Keeps the contents of all files; those that go while they are read were deleted. */
async function keepFiles(
  folder: string,
  dataFolder: string,
  known: ReadonlyMap<string, FileEntry>,
): Promise<{ files: Map<string, FileEntry>; bytes: number }> {
  const files = new Map<string, FileEntry>();
  let newBytes = 0;
  for (const entry of await readdir(join(dataFolder, filesFolder), { recursive: true, withFileTypes: true }).catch(() => [])) {
    const source = join(entry.parentPath, entry.name);
    const path = relative(dataFolder, source);
    if (!entry.isFile() || path.split('/')[1] === incoming) continue;
    const found = await stat(source).catch(() => null);
    if (!found) continue;
    const before = known.get(path);
    const modifiedMs = Math.floor(found.mtimeMs);
    if (before && before.bytes === found.size && before.modifiedMs === modifiedMs && (await hasContent(folder, before))) {
      files.set(path, before);
      continue;
    }
    const kept = await keepContent(folder, source).catch((error: NodeJS.ErrnoException) => {
      if (error.code === 'ENOENT') return null;
      throw error;
    });
    if (!kept) continue;
    files.set(path, { path, bytes: kept.bytes, modifiedMs, sha256: kept.sha256 });
    if (kept.isNew) newBytes += kept.bytes;
  }
  return { files, bytes: newBytes };
}
