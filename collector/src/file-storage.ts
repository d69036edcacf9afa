import { mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Storage } from './storage.ts';

/** Keeps texts as files of a folder, for Node and runtimes like it. A file is replaced whole, never half. */
export function fileStorage(folder: string): Storage {
  return {
    get: (name) => {
      try {
        return readFileSync(join(folder, name), 'utf8');
      } catch {
        return null;
      }
    },
    set: (name, text) => {
      // Made only now, so that a folder that cannot be had is a full storage and no trouble of the app.
      mkdirSync(folder, { recursive: true });
      const path = join(folder, name);
      // Of a name of its own: another process may be writing, too.
      const whole = `${path}.${process.pid}.new`;
      writeFileSync(whole, text);
      renameSync(whole, path);
    },
  };
}
