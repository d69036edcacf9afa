import { createHash, randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { access, mkdir, rename, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { indexFormatVersion } from '@rough-ember/core/symbols/index-file';

/** Where uploaded files and their indexes lie, by content. A folder here; an object store can stand behind the same calls. */
export interface SymbolStore {
  /** Streams bytes in and keeps them under their SHA-256. */
  keep(chunks: AsyncIterable<Buffer>): Promise<{ sha256: Buffer; sizeBytes: number }>;
  /** Path of the original file. */
  originalPath(sha256: Buffer): string;
  /** Path of its index in the format this program writes. */
  indexPath(sha256: Buffer): string;
}

/** Opens, and makes, the folder of a symbol store. */
export async function openSymbolStore(folder: string): Promise<SymbolStore> {
  const incoming = join(folder, 'incoming');
  await mkdir(incoming, { recursive: true });
  const place = (sha256: Buffer) => {
    const name = sha256.toString('hex');
    return join(folder, name.slice(0, 2), name);
  };
  return {
    originalPath: (sha256) => `${place(sha256)}.original`,
    indexPath: (sha256) => `${place(sha256)}.index${indexFormatVersion}`,
    async keep(chunks) {
      const temporary = join(incoming, randomUUID());
      const hash = createHash('sha256');
      let sizeBytes = 0;
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
          createWriteStream(temporary, { flush: true }),
        );
        const sha256 = hash.digest();
        const path = `${place(sha256)}.original`;
        await mkdir(join(path, '..'), { recursive: true });
        const known = await access(path).then(
          () => true,
          () => false,
        );
        if (known) await rm(temporary);
        else await rename(temporary, path);
        return { sha256, sizeBytes };
      } catch (error) {
        await rm(temporary, { force: true });
        throw error;
      }
    },
  };
}
