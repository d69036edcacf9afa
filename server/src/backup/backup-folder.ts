import { createHash, randomUUID } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import { mkdir, readdir, readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { z } from 'zod';

const sha256 = z.string().regex(/^[0-9a-f]{64}$/);
const part = z.strictObject({ name: z.string(), bytes: z.number(), sha256 });

/** What a backup is made of; it is written last, so that one without it is none. */
const manifestSchema = z.strictObject({
  format: z.literal(1),
  version: z.string(),
  schema: z.number(),
  startedAt: z.iso.datetime(),
  finishedAt: z.iso.datetime(),
  /** The database, packed, and its triggers. */
  parts: z.array(part),
  /** The secret that channels are encrypted with; null where the environment has it. */
  hasKey: z.boolean(),
  /** Files of the data folder, each under the hash of its content. */
  files: z.array(z.strictObject({ path: z.string(), bytes: z.number(), modifiedMs: z.number(), sha256 })),
});
export type Manifest = z.infer<typeof manifestSchema>;

/** A backup that cannot be made or used, and why. */
export class BackupProblem extends Error {}

const manifestName = 'manifest.json';

/** Where the contents of files lie that any backup of a folder has: each once, under its hash. */
export const contentPath = (folder: string, hash: string): string => join(folder, 'files', hash.slice(0, 2), hash);

/** The backups of a folder that are whole, the oldest first. */
export async function listBackups(folder: string): Promise<string[]> {
  const names: string[] = [];
  for (const entry of await readdir(folder, { withFileTypes: true }).catch(() => []))
    if (entry.isDirectory() && (await stat(join(folder, entry.name, manifestName)).catch(() => null))) names.push(entry.name);
  return names.sort();
}

export async function readManifest(folder: string, name: string): Promise<Manifest> {
  const path = join(folder, name, manifestName);
  const text = await readFile(path, 'utf8').catch(() => {
    throw new BackupProblem(`${join(folder, name)} is no backup: it has no ${manifestName}.`);
  });
  const parsed = manifestSchema.safeParse(parseJson(text));
  if (!parsed.success) throw new BackupProblem(`${path} cannot be read: ${parsed.error.issues[0]?.message ?? 'it is no JSON'}.`);
  for (const { path: own } of parsed.data.files)
    if (own.startsWith('/') || own.split('/').includes('..')) throw new BackupProblem(`${path} names ${own}, which lies outside.`);
  return parsed.data;
}

function parseJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}

/** Writes the manifest, with which the backup is whole. */
export async function writeManifest(folder: string, name: string, manifest: Manifest): Promise<void> {
  const path = join(folder, name, manifestName);
  await writeFile(`${path}.new`, JSON.stringify(manifest, null, 1), { flush: true });
  await rename(`${path}.new`, path);
}

/** Counts and hashes what passes. */
export class Measured extends Transform {
  bytes = 0;
  private readonly hash = createHash('sha256');

  override _transform(chunk: Buffer, _encoding: BufferEncoding, done: (error: null, chunk: Buffer) => void): void {
    this.bytes += chunk.length;
    this.hash.update(chunk);
    done(null, chunk);
  }

  get sha256(): string {
    return this.hash.digest('hex');
  }
}

/** Keeps the content of a file, unless it is there; gives its hash and how many bytes are new. */
export async function keepContent(folder: string, source: string): Promise<{ sha256: string; bytes: number; isNew: boolean }> {
  const incoming = join(folder, 'files', `incoming-${randomUUID()}`);
  await mkdir(join(folder, 'files'), { recursive: true });
  const measured = new Measured();
  try {
    await pipeline(createReadStream(source), measured, createWriteStream(incoming, { flush: true }));
    const { bytes, sha256: hash } = { bytes: measured.bytes, sha256: measured.sha256 };
    const path = contentPath(folder, hash);
    const isNew = (await stat(path).catch(() => null)) === null;
    if (isNew) {
      await mkdir(join(path, '..'), { recursive: true });
      await rename(incoming, path);
    }
    return { sha256: hash, bytes, isNew };
  } finally {
    await rm(incoming, { force: true });
  }
}

/** The hash and size of a file; null where there is none. */
export async function measureFile(path: string): Promise<{ bytes: number; sha256: string } | null> {
  if ((await stat(path).catch(() => null)) === null) return null;
  const measured = new Measured();
  await pipeline(createReadStream(path), measured, async (source) => {
    for await (const _chunk of source);
  });
  return { bytes: measured.bytes, sha256: measured.sha256 };
}

/** Looks at every byte of a backup; gives what is missing or damaged, in words. */
export async function checkBackup(folder: string, name: string, manifest: Manifest): Promise<string[]> {
  const wanted = [
    ...manifest.parts.map((one) => ({ ...one, path: join(folder, name, one.name) })),
    ...manifest.files.map((one) => ({ ...one, name: one.path, path: contentPath(folder, one.sha256) })),
  ];
  const problems: string[] = [];
  for (const { name: what, path, bytes, sha256: hash } of wanted) {
    const found = await measureFile(path);
    if (found === null) problems.push(`${what} is missing`);
    else if (found.bytes !== bytes || found.sha256 !== hash) problems.push(`${what} is damaged`);
  }
  return problems;
}

/** Lets all but the newest backups go, and the contents that only they had; gives how many went. */
export async function pruneBackups(folder: string, keep: number): Promise<number> {
  const all = await listBackups(folder);
  const old = all.slice(0, Math.max(0, all.length - keep));
  if (old.length === 0) return 0;
  const needed = new Set<string>();
  for (const name of all.slice(-keep)) for (const { sha256: hash } of (await readManifest(folder, name)).files) needed.add(hash);
  for (const name of old) await rm(join(folder, name), { recursive: true });
  for (const entry of await readdir(join(folder, 'files'), { recursive: true, withFileTypes: true }))
    if (entry.isFile() && !needed.has(entry.name) && !entry.name.startsWith('incoming-')) await rm(join(entry.parentPath, entry.name));
  return old.length;
}
