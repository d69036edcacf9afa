import { createHash, randomUUID } from 'node:crypto';
import { once } from 'node:events';
import { createWriteStream } from 'node:fs';
import { access, mkdir, readdir, rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { indexFormatVersion } from '@rough-ember/core/symbols/index-file';

/** Where uploaded files and their indexes lie, by content. A folder here; an object store can stand behind the same calls. */
export interface SymbolStore extends SymbolPlaces {
  /** Streams bytes in and keeps them under their SHA-256. */
  keep(chunks: AsyncIterable<Buffer>): Promise<{ sha256: Buffer; sizeBytes: number }>;
  /** Whether the original is on disk. */
  has(sha256: Buffer): Promise<boolean>;
  /** Takes an original that is not what was uploaded out of the way, so that the next upload puts it right. */
  setAside(sha256: Buffer): Promise<void>;
  /** Every file that lies in the folder; what is still coming in has no content yet. */
  list(): AsyncGenerator<StoredFile>;
}

/** Where a content and its index lie; a worker thread needs no more than that of a store. */
export interface SymbolPlaces {
  readonly folder: string;
  /** Path of the original file. */
  originalPath(sha256: Buffer): string;
  /** Path of its index in the format this program writes. */
  indexPath(sha256: Buffer): string;
}

const placeIn = (folder: string, sha256: Buffer): string => {
  const name = sha256.toString('hex');
  return join(folder, name.slice(0, 2), name);
};

export const symbolPlaces = (folder: string): SymbolPlaces => ({
  folder,
  originalPath: (sha256) => `${placeIn(folder, sha256)}.original`,
  indexPath: (sha256) => `${placeIn(folder, sha256)}.index${indexFormatVersion}`,
});

/** A file as it lies on disk: an original, an index, or the beginning of an upload. */
export interface StoredFile {
  readonly path: string;
  readonly sha256: Buffer | null;
  readonly isOriginal: boolean;
  readonly sizeBytes: number;
  readonly modifiedAt: Date;
}

/** Where uploads lie until they are whole. */
const incomingIn = (folder: string): string => join(folder, 'incoming');

async function keepIn(folder: string, chunks: AsyncIterable<Buffer>): Promise<{ sha256: Buffer; sizeBytes: number }> {
  const temporary = join(incomingIn(folder), randomUUID());
  const hash = createHash('sha256');
  let sizeBytes = 0;
  const file = createWriteStream(temporary, { flush: true });
  const closed = once(file, 'close');
  try {
    await pipeline(
      chunks,
      async function* (source) {
        for await (const chunk of source) {
          hash.update(chunk);
          sizeBytes += chunk.length;
          yield chunk;
        }
      },
      file,
    );
    const sha256 = hash.digest();
    const path = `${placeIn(folder, sha256)}.original`;
    await mkdir(join(path, '..'), { recursive: true });
    // Also over the same content: a file that came just now is never swept away as one that nothing refers to.
    await rename(temporary, path);
    return { sha256, sizeBytes };
  } catch (error) {
    // It may still be on its way to being opened, and would be made after it was taken away.
    await closed.catch(() => {});
    await rm(temporary, { force: true });
    throw error;
  }
}

/** Opens, and makes, the folder of a symbol store. */
export async function openSymbolStore(folder: string): Promise<SymbolStore> {
  await mkdir(incomingIn(folder), { recursive: true });
  const place = (sha256: Buffer) => placeIn(folder, sha256);
  return {
    ...symbolPlaces(folder),
    has: (sha256) =>
      access(`${place(sha256)}.original`).then(
        () => true,
        () => false,
      ),
    setAside: (sha256) => rename(`${place(sha256)}.original`, `${place(sha256)}.damaged`),
    async *list() {
      for (const entry of await readdir(folder, { recursive: true, withFileTypes: true })) {
        if (!entry.isFile()) continue;
        const path = join(entry.parentPath, entry.name);
        const found = await stat(path).catch(() => null);
        const [, name, kind] = /^([0-9a-f]{64})\.(original$|index)/.exec(entry.name) ?? [];
        if (found)
          yield {
            path,
            sha256: name === undefined ? null : Buffer.from(name, 'hex'),
            isOriginal: kind === 'original',
            sizeBytes: found.size,
            modifiedAt: found.mtime,
          };
      }
    },
    keep: (chunks) => keepIn(folder, chunks),
  };
}
