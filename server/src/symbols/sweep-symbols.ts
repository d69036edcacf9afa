import { rm, stat } from 'node:fs/promises';
import { dayMs, hourMs } from '@rough-ember/core/durations';
import type { Database } from '@rough-ember/store/database';
import { isContentInUse } from '@rough-ember/store/symbol-files';
import type { StoredFile, SymbolStore } from './symbol-store.ts';

/** Files younger than this may belong to an upload that is not recorded yet. */
export const sweptAfterMs = hourMs;
/** An upload that is sent in parts may rest for so long before it counts as broken off. */
const brokenOffAfterMs = dayMs;

/**
 * Removes from disk what nothing refers to: contents whose last file was deleted in every app, and uploads that broke off.
 * Gives the bytes that were freed.
 */
export async function sweepSymbols(database: Database, symbols: SymbolStore, now: Date): Promise<number> {
  let freed = 0;
  for await (const file of symbols.list()) {
    if (!isOld(file, now) || (file.sha256 && (await isContentInUse(database, file.sha256)))) continue;
    // The same content may have come again meanwhile.
    const after = await stat(file.path).catch(() => null);
    if (!after || after.mtime.getTime() !== file.modifiedAt.getTime()) continue;
    await rm(file.path, { force: true });
    freed += file.sizeBytes;
  }
  return freed;
}

const isOld = ({ modifiedAt, sha256 }: StoredFile, now: Date): boolean =>
  now.getTime() - modifiedAt.getTime() > (sha256 ? sweptAfterMs : brokenOffAfterMs);
