import { closeSync, createReadStream, openSync, readdirSync, readSync, statSync } from 'node:fs';
import { join } from 'node:path';
import type { Problem } from '@rough-ember/core/result';
import { writeIndexFile } from '@rough-ember/core/symbols/index-file';
import { detectHeadBytes, detectMapping } from '@rough-ember/core/symbols/mapping/detect';
import { MappingIndexBuilder } from '@rough-ember/core/symbols/mapping/index-builder';
import { MappingIndex } from '@rough-ember/core/symbols/mapping/lookup';
import { CommandProblem } from './command-problem.ts';
import { wordFileError } from './read-file.ts';

/** Why a file is no mapping, or null when it looks like one; reads its first bytes only. */
export function whyNoMapping(path: string): string | null {
  const head = new Uint8Array(detectHeadBytes);
  let length: number;
  try {
    const file = openSync(path, 'r');
    try {
      length = readSync(file, head);
    } finally {
      closeSync(file);
    }
  } catch (error) {
    throw new CommandProblem(`${path} cannot be read: ${wordFileError(error)}`);
  }
  const detected = detectMapping(head.subarray(0, length));
  return detected.ok ? null : detected.problem.message;
}

/** Reads a mapping chunk by chunk and opens its index. */
export async function openMapping(path: string): Promise<{ mapping: MappingIndex; indexBytes: number }> {
  const builder = new MappingIndexBuilder();
  const fail = (problem: Problem) => new CommandProblem(`${path}: ${problem.message}`);
  for await (const chunk of createReadStream(path, { highWaterMark: 1 << 20 })) {
    const added = builder.add(chunk as Buffer);
    if (!added.ok) throw fail(added.problem);
  }
  const finished = builder.finish();
  if (!finished.ok) throw fail(finished.problem);
  const index = writeIndexFile(finished.value);
  const opened = MappingIndex.open(index);
  if (!opened.ok) throw fail(opened.problem);
  return { mapping: opened.value, indexBytes: index.length };
}

/** The mappings among files and folders a person named. A file that is none is a problem, in a folder it is passed over. */
export function findMappings(paths: readonly string[]): string[] {
  return paths.flatMap((path) => {
    let isFolder: boolean;
    try {
      isFolder = statSync(path).isDirectory();
    } catch (error) {
      throw new CommandProblem(`${path} cannot be read: ${wordFileError(error)}`);
    }
    if (!isFolder) {
      const why = whyNoMapping(path);
      if (why !== null) throw new CommandProblem(`${path}: ${why}`);
      return [path];
    }
    return readdirSync(path, { recursive: true, withFileTypes: true })
      .filter((entry) => entry.isFile())
      .map((entry) => join(entry.parentPath, entry.name))
      .filter((file) => whyNoMapping(file) === null)
      .sort();
  });
}
