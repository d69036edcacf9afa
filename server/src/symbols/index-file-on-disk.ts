import { randomUUID } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { readFile, rename, writeFile } from 'node:fs/promises';
import type { Result } from '@rough-ember/core/result';
import { writeIndexFile } from '@rough-ember/core/symbols/index-file';
import { MappingIndexBuilder, type MappingProblem } from '@rough-ember/core/symbols/mapping/index-builder';
import type { MappingSummary } from '@rough-ember/core/symbols/mapping/index-layout';
import { MappingIndex } from '@rough-ember/core/symbols/mapping/lookup';

/** Indexes a mapping on disk, chunk by chunk; the index appears whole or not at all. */
export async function indexMappingFile(originalPath: string, indexPath: string): Promise<Result<MappingSummary, MappingProblem>> {
  const builder = new MappingIndexBuilder();
  for await (const chunk of createReadStream(originalPath, { highWaterMark: 1 << 20 })) {
    const added = builder.add(chunk as Buffer);
    if (!added.ok) return added;
  }
  const finished = builder.finish();
  if (!finished.ok) return finished;
  const temporary = `${indexPath}.${randomUUID()}`;
  await writeFile(temporary, writeIndexFile(finished.value), { flush: true });
  await rename(temporary, indexPath);
  return { ok: true, value: finished.value.summary };
}

/** Opens the index of a mapping, making it again from the original when it is missing, damaged or of another version. */
export async function openMappingFile(originalPath: string, indexPath: string): Promise<MappingIndex> {
  const bytes = await readFile(indexPath).catch(() => null);
  const opened = bytes && MappingIndex.open(bytes);
  if (opened?.ok) return opened.value;
  const indexed = await indexMappingFile(originalPath, indexPath);
  if (!indexed.ok) throw new Error(`the mapping cannot be indexed again: ${indexed.problem.message}`);
  const again = MappingIndex.open(await readFile(indexPath));
  if (!again.ok) throw new Error(again.problem.message);
  return again.value;
}
