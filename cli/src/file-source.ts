import { closeSync, fstatSync, openSync, readSync } from 'node:fs';
import type { ByteSource } from '@rough-ember/core/bytes/byte-source';
import { CommandProblem } from './command-problem.ts';
import { wordFileError } from './read-file.ts';

/** Reads a file where it is wanted; what cannot be read is a problem in words. */
export async function withFileSource<Value>(path: string, use: (source: ByteSource) => Promise<Value>): Promise<Value> {
  let file: number;
  try {
    file = openSync(path, 'r');
  } catch (error) {
    throw new CommandProblem(`${path} cannot be read: ${wordFileError(error)}`);
  }
  try {
    return await use({
      sizeBytes: fstatSync(file).size,
      read: async (offset, length) => {
        const bytes = new Uint8Array(length);
        const got = readSync(file, bytes, 0, length, offset);
        if (got !== length) throw new CommandProblem(`${path} became shorter while it was read`);
        return bytes;
      },
    });
  } finally {
    closeSync(file);
  }
}
