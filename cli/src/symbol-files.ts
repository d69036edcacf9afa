import { readdirSync, statSync } from 'node:fs';
import { basename, join } from 'node:path';
import { readHead } from '@rough-ember/core/bytes/byte-source';
import type { Result } from '@rough-ember/core/result';
import type { TiedFile } from '@rough-ember/core/symbolicate/file-set';
import { detectSymbolFile, type SymbolFileFormat } from '@rough-ember/core/symbols/detect';
import { sectionsOf } from '@rough-ember/core/symbols/index-file';
import { type IndexedPart, indexSymbolFile } from '@rough-ember/core/symbols/index-symbol-file';
import { openSymbolIndex, type SymbolIndex } from '@rough-ember/core/symbols/open-index';
import { CommandProblem } from './command-problem.ts';
import { withFileSource } from './file-source.ts';
import { wordFileError } from './read-file.ts';

/** Bytes that decide what kind of file it is. */
const headBytes = 64 * 1024;

/** What kind of symbol file it is, or why it is none; reads its first bytes only. */
export const detectFile = (path: string): Promise<Result<SymbolFileFormat>> =>
  withFileSource(path, async (source) => detectSymbolFile(await readHead(source, headBytes)));

/** The symbol files among files and folders a person named. A file that is none is a problem, in a folder it is passed over. */
export async function findSymbolFiles(paths: readonly string[]): Promise<string[]> {
  const found: string[] = [];
  for (const path of paths) {
    let isFolder: boolean;
    try {
      isFolder = statSync(path).isDirectory();
    } catch (error) {
      throw new CommandProblem(`${path} cannot be read: ${wordFileError(error)}`);
    }
    if (!isFolder) {
      const detected = await detectFile(path);
      if (!detected.ok) throw new CommandProblem(`${path}: ${detected.problem.message}`);
      found.push(path);
      continue;
    }
    const inside = readdirSync(path, { recursive: true, withFileTypes: true })
      .filter((entry) => entry.isFile())
      .map((entry) => join(entry.parentPath, entry.name))
      .sort();
    for (const file of inside) if (isLikelySymbolFile(file) && (await detectFile(file)).ok) found.push(file);
  }
  return found;
}

/** JSON is everywhere; in a folder only a file that is called a map is taken for one. */
const isLikelySymbolFile = (path: string): boolean => !/\.json$/i.test(path);

/** Reads a symbol file and makes its indexes. */
export async function indexFile(path: string): Promise<IndexedPart[]> {
  const indexed = await withFileSource(path, (source) => indexSymbolFile(source, { fileName: basename(path) }));
  if (!indexed.ok) throw new CommandProblem(`${path}: ${indexed.problem.message}`);
  return indexed.value;
}

export type OpenedFile = TiedFile & { readonly opened: SymbolIndex; readonly path: string };

/** Opens symbol files to symbolicate with them; whoever names a file vouches for its build. */
export async function openSymbolFiles(paths: readonly string[]): Promise<OpenedFile[]> {
  const opened: OpenedFile[] = [];
  for (const path of paths)
    for (const { kind, name, symbolId, built } of await indexFile(path)) {
      const index = openSymbolIndex(sectionsOf(built));
      if (!index.ok) throw new CommandProblem(`${path}: ${index.problem.message}`);
      opened.push({ kind, name, symbolId, isOfBuild: true, opened: index.value, path });
    }
  return opened;
}
