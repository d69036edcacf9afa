import { mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Storage } from './storage.ts';

/** Keeps texts as files of a folder, for Node and runtimes like it. A file is replaced whole, never half. */
export function fileStorage(folder: string): Storage {
  mkdirSync(folder, { recursive: true });
  return {
    get: (name) => {
      try {
        return readFileSync(join(folder, name), 'utf8');
      } catch {
        return null;
      }
    },
    set: (name, text) => {
      const path = join(folder, name);
      writeFileSync(`${path}.new`, text);
      renameSync(`${path}.new`, path);
    },
  };
}
