import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { readFile, stat } from 'node:fs/promises';
import { openSymbolIndex } from '@rough-ember/core/symbols/open-index';
import type { Database } from '@rough-ember/store/database';
import { listSymbolContents, type SymbolContent } from '@rough-ember/store/symbol-files';
import { indexFileOnDisk } from './index-file-on-disk.ts';
import type { SymbolStore } from './symbol-store.ts';

/** What is wrong with one content on disk, and whether it was mended. */
export interface SymbolFault {
  readonly fileName: string;
  readonly sha256: string;
  readonly problem: string;
  readonly mended: boolean;
}

export interface SymbolCheck {
  readonly contents: number;
  readonly sizeBytes: number;
  readonly faults: readonly SymbolFault[];
}

/**
 * Reads every symbol file on disk: the original must have the bytes it was taken with, each index must open. An index that is
 * missing or damaged is made again from its original; an original that is gone can only come from whoever has it.
 */
export async function checkSymbols(
  database: Database,
  symbols: SymbolStore,
  progress: (done: number, all: number) => void = () => {},
): Promise<SymbolCheck> {
  const contents = await listSymbolContents(database);
  const faults: SymbolFault[] = [];
  let sizeBytes = 0;
  for (const [at, content] of contents.entries()) {
    progress(at, contents.length);
    const { sha256, fileName } = content;
    const report = (problem: string, mended: boolean) => faults.push({ fileName, sha256: sha256.toString('hex'), problem, mended });
    const path = symbols.originalPath(sha256);
    const found = await stat(path).catch(() => null);
    if (!found) {
      report('the file is gone from disk: upload it again', false);
      continue;
    }
    sizeBytes += found.size;
    if (!(await hashOf(path)).equals(sha256)) {
      await symbols.setAside(sha256);
      report('the file on disk is not what was uploaded and was set aside: upload it again', false);
    } else if (content.state === 'ready') await checkIndex(symbols, content, report);
  }
  return { contents: contents.length, sizeBytes, faults };
}

async function checkIndex(
  symbols: SymbolStore,
  { sha256, fileName, parts }: SymbolContent,
  report: (problem: string, mended: boolean) => void,
): Promise<void> {
  const indexPath = symbols.indexPath(sha256);
  let problem: string | null = null;
  for (let part = 0; part < parts && problem === null; part++) problem = await faultOfIndex(`${indexPath}.${part}`);
  if (problem === null) return;
  const again = await indexFileOnDisk({ originalPath: symbols.originalPath(sha256), indexPath, fileName });
  report(again.ok ? `${problem}; it was made again` : `${problem}, and cannot be made again: ${again.problem.message}`, again.ok);
}

async function faultOfIndex(path: string): Promise<string | null> {
  const bytes = await readFile(path).catch(() => null);
  if (!bytes) return 'its index is missing';
  const opened = openSymbolIndex(bytes);
  return opened.ok ? null : `its index is damaged: ${opened.problem.message}`;
}

async function hashOf(path: string): Promise<Buffer> {
  const hash = createHash('sha256');
  for await (const chunk of createReadStream(path, { highWaterMark: 1 << 20 })) hash.update(chunk as Buffer);
  return hash.digest();
}
