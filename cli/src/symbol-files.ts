import { mkdtempSync, readdirSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { MalformedInput } from '@rough-ember/core/bytes/byte-reader';
import { readHead, sourceOf } from '@rough-ember/core/bytes/byte-source';
import type { Result } from '@rough-ember/core/result';
import type { TiedFile } from '@rough-ember/core/symbolicate/file-set';
import { isZip, readArchive } from '@rough-ember/core/symbols/archive';
import { Warnings } from '@rough-ember/core/symbols/code/warnings';
import { detectSymbolFile } from '@rough-ember/core/symbols/detect';
import type { DwarfSections } from '@rough-ember/core/symbols/dwarf/sections';
import { readSplitFile } from '@rough-ember/core/symbols/elf/index-elf';
import { sectionsOf } from '@rough-ember/core/symbols/index-file';
import { indexSymbolFile } from '@rough-ember/core/symbols/index-symbol-file';
import { openSymbolIndex, type SymbolIndex } from '@rough-ember/core/symbols/open-index';
import { unpackedName, unpackedSource } from '@rough-ember/core/symbols/packed';
import type { IndexedPart, SymbolFileFormat } from '@rough-ember/core/symbols/readers';
import { isMeant } from '@rough-ember/core/symbols/readers';
import { CommandProblem } from './command-problem.ts';
import { withFileSource } from './file-source.ts';
import { wordFileError } from './read-file.ts';

/** Bytes that decide what kind of file it is. */
const headBytes = 64 * 1024;

/** What kind of symbol file it is, or why it is none; reads its first bytes only. */
export const detectFile = (path: string): Promise<Result<SymbolFileFormat>> =>
  withFileSource(path, async (source) => detectSymbolFile(await readHead(source, headBytes), basename(path)));

/** A symbol file that was found: where it lies, and how a person knows it, which of an unpacked one is its archive. */
export interface FoundSymbolFile {
  readonly path: string;
  readonly label: string;
  readonly format: SymbolFileFormat;
}

/**
 * The symbol files among files, folders and archives a person named. A file that is none is a problem, in a folder or
 * archive it is passed over.
 */
export async function findSymbolFiles(paths: readonly string[]): Promise<FoundSymbolFile[]> {
  const found: FoundSymbolFile[] = [];
  for (const path of paths) {
    let isFolder: boolean;
    try {
      isFolder = statSync(path).isDirectory();
    } catch (error) {
      throw new CommandProblem(`${path} cannot be read: ${wordFileError(error)}`);
    }
    if (isFolder) found.push(...(await findInFolder(path)));
    else if (await isArchive(path)) found.push(...(await findInArchive(path)));
    else {
      const detected = await detectFile(path);
      if (!detected.ok) throw new CommandProblem(`${path}: ${detected.problem.message}`);
      found.push({ path, label: path, format: detected.value });
    }
  }
  return found;
}

async function findInFolder(folder: string): Promise<FoundSymbolFile[]> {
  const found: FoundSymbolFile[] = [];
  const files = readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile())
    .map((entry) => join(entry.parentPath, entry.name))
    .sort();
  for (const path of files) {
    if (await isArchive(path)) {
      found.push(...(await findInArchive(path)));
      continue;
    }
    const detected = await detectFile(path);
    if (detected.ok && (await withFileSource(path, (source) => isMeant(detected.value, path, source))))
      found.push({ path, label: path, format: detected.value });
  }
  return found;
}

const isArchive = (path: string): Promise<boolean> => withFileSource(path, async (source) => isZip(await readHead(source, 4)));

let unpackedFolder: string | null = null;

/** Unpacks the symbol files of an archive into a folder that goes when the command ends. */
async function findInArchive(path: string): Promise<FoundSymbolFile[]> {
  return withFileSource(path, async (source) => {
    const found: FoundSymbolFile[] = [];
    try {
      for (const entry of await readArchive(source)) {
        const bytes = await entry.read();
        const detected = await detectSymbolFile(bytes.subarray(0, headBytes), basename(entry.path));
        if (!detected.ok || !(await isMeant(detected.value, entry.path, sourceOf(bytes)))) continue;
        unpackedFolder ??= makeUnpackedFolder();
        // A folder of its own for each, as two of one name are common in an archive.
        const folder = mkdtempSync(join(unpackedFolder, 'file-'));
        const unpacked = join(folder, basename(entry.path));
        writeFileSync(unpacked, bytes);
        found.push({ path: unpacked, label: `${path}: ${entry.path}`, format: detected.value });
      }
    } catch (error) {
      if (error instanceof MalformedInput) throw new CommandProblem(`${path}: ${error.message}`);
      throw error;
    }
    return found;
  });
}

function makeUnpackedFolder(): string {
  const folder = mkdtempSync(join(tmpdir(), 'ember-unpacked-'));
  process.on('exit', () => rmSync(folder, { recursive: true, force: true }));
  return folder;
}

/** Reads a symbol file and makes its indexes. */
export async function indexFile(path: string, splits: readonly DwarfSections[] = []): Promise<IndexedPart[]> {
  const indexed = await withFileSource(path, (source) => indexSymbolFile(source, { fileName: basename(path), splits }));
  if (!indexed.ok) throw new CommandProblem(`${path}: ${indexed.problem.message}`);
  return indexed.value;
}

/** Packages of split debug information hold functions, but no addresses: they only complete the image they belong to. */
const isSplit = ({ path }: FoundSymbolFile): boolean => /\.dw[op]$/.test(unpackedName(path));

async function readSplits(found: readonly FoundSymbolFile[]): Promise<DwarfSections[]> {
  const splits: DwarfSections[] = [];
  for (const { path, label } of found)
    try {
      splits.push((await withFileSource(path, async (source) => readSplitFile(await unpackedSource(source), new Warnings()))).sections);
    } catch (error) {
      if (error instanceof MalformedInput) throw new CommandProblem(`${label}: ${error.message}`);
      throw error;
    }
  return splits;
}

export type OpenedFile = TiedFile & { readonly opened: SymbolIndex; readonly path: string };

/** Opens symbol files to symbolicate with them; whoever names a file vouches for its build. */
export async function openSymbolFiles(found: readonly FoundSymbolFile[]): Promise<OpenedFile[]> {
  const opened: OpenedFile[] = [];
  const splits = await readSplits(found.filter(isSplit));
  for (const { path, label } of found.filter((file) => !isSplit(file)))
    for (const { kind, name, symbolId, built } of await indexFile(path, splits)) {
      const index = openSymbolIndex(sectionsOf(built));
      if (!index.ok) throw new CommandProblem(`${label}: ${index.problem.message}`);
      opened.push({ kind, name, symbolId, isOfBuild: true, opened: index.value, path: label });
    }
  return opened;
}
