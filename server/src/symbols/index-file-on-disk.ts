import { randomUUID } from 'node:crypto';
import { type FileHandle, open, readFile, rename, writeFile } from 'node:fs/promises';
import type { ByteSource } from '@rough-ember/core/bytes/byte-source';
import type { Result } from '@rough-ember/core/result';
import type { CodeSummary } from '@rough-ember/core/symbols/code/index-layout';
import { Warnings } from '@rough-ember/core/symbols/code/warnings';
import type { DwarfSections } from '@rough-ember/core/symbols/dwarf/sections';
import { readSplitFile } from '@rough-ember/core/symbols/elf/index-elf';
import type { SymbolFileKind } from '@rough-ember/core/symbols/families';
import { writeIndexFile } from '@rough-ember/core/symbols/index-file';
import { indexSymbolFile } from '@rough-ember/core/symbols/index-symbol-file';
import { openSymbolIndex, type SymbolIndex } from '@rough-ember/core/symbols/open-index';
import { unpackedSource } from '@rough-ember/core/symbols/packed';
import type { SymbolFileProblem } from '@rough-ember/core/symbols/reader';

/** Where a symbol file lies, and where its indexes: each part at this path with its number behind it. */
export interface SymbolFilePaths {
  readonly originalPath: string;
  readonly indexPath: string;
  readonly fileName: string;
}

/** What an index on disk holds and ties to a build. */
export interface IndexedPartView {
  readonly kind: SymbolFileKind;
  readonly symbolId: string | null;
  readonly name: string | null;
  readonly summary: unknown;
}

/**
 * Indexes a symbol file on disk, reading what it needs of it; each index appears whole or not at all. `splitPaths` are files
 * that may hold the functions of units it lacks.
 */
export async function indexFileOnDisk(
  { originalPath, indexPath, fileName }: SymbolFilePaths,
  splitPaths: readonly string[] = [],
): Promise<Result<IndexedPartView[], SymbolFileProblem>> {
  const file = await open(originalPath);
  try {
    const source = await sourceOfFile(file);
    let indexed = await indexSymbolFile(source, { fileName });
    if (!indexed.ok) return indexed;
    if (
      splitPaths.length > 0 &&
      indexed.value.some((part) => part.kind === 'code' && (part.built.summary as CodeSummary).missingSplitUnitCount > 0)
    ) {
      indexed = await indexSymbolFile(source, { fileName, splits: await readSplits(splitPaths) });
      if (!indexed.ok) return indexed;
    }
    const views: IndexedPartView[] = [];
    for (const { kind, symbolId, name, built } of indexed.value) {
      const path = `${indexPath}.${views.length}`;
      const temporary = `${path}.${randomUUID()}`;
      await writeFile(temporary, writeIndexFile(built), { flush: true });
      await rename(temporary, path);
      views.push({ kind, symbolId, name, summary: built.summary });
    }
    return { ok: true, value: views };
  } finally {
    await file.close();
  }
}

async function readSplits(paths: readonly string[]): Promise<DwarfSections[]> {
  const splits: DwarfSections[] = [];
  for (const path of paths) {
    const file = await open(path);
    try {
      splits.push((await readSplitFile(await unpackedSource(await sourceOfFile(file)), new Warnings())).sections);
    } finally {
      await file.close();
    }
  }
  return splits;
}

async function sourceOfFile(file: FileHandle): Promise<ByteSource> {
  const { size } = await file.stat();
  return {
    sizeBytes: size,
    async read(offset, length) {
      const bytes = new Uint8Array(length);
      for (let at = 0; at < length; ) {
        const { bytesRead } = await file.read(bytes, at, length - at, offset + at);
        if (bytesRead === 0) throw new Error('the file became shorter while it was read');
        at += bytesRead;
      }
      return bytes;
    },
  };
}

/**
 * Opens the index of a part of a symbol file, making the indexes again from the original when one is missing, damaged
 * or of another version. Gives its size in bytes, too.
 */
export async function openIndexOnDisk(paths: SymbolFilePaths, part: number): Promise<{ opened: SymbolIndex; sizeBytes: number }> {
  const path = `${paths.indexPath}.${part}`;
  const bytes = await readFile(path).catch(() => null);
  const opened = bytes && openSymbolIndex(bytes);
  if (bytes && opened?.ok) return { opened: opened.value, sizeBytes: bytes.length };
  const indexed = await indexFileOnDisk(paths);
  if (!indexed.ok) throw new Error(`the symbol file cannot be indexed again: ${indexed.problem.message}`);
  const madeAgain = await readFile(path);
  const again = openSymbolIndex(madeAgain);
  if (!again.ok) throw new Error(again.problem.message);
  return { opened: again.value, sizeBytes: madeAgain.length };
}
