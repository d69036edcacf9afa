import { MalformedInput } from '../bytes/byte-reader.ts';
import { type ByteSource, readHead } from '../bytes/byte-source.ts';
import { failure, type Result } from '../result.ts';
import { detectSymbolFile } from './detect.ts';
import type { DwarfSections } from './dwarf/sections.ts';
import { unpackedName, unpackedSource } from './packed.ts';
import type { Indexing, SymbolFileProblem } from './reader.ts';
import { formatOf, type IndexedPart } from './readers.ts';

/**
 * Makes the indexes of a symbol file of any kind; `fileName` names its image or script where the file itself does not,
 * `splits` are the packages at hand that may hold the functions of its units.
 */
export async function indexSymbolFile(
  given: ByteSource,
  { fileName, splits = [], progress }: { fileName: string; splits?: readonly DwarfSections[]; progress?: Indexing['progress'] },
): Promise<Result<IndexedPart[], SymbolFileProblem>> {
  const detected = await detectSymbolFile(await readHead(given, 64 * 1024), fileName);
  if (!detected.ok) return detected;
  try {
    const indexed = await formatOf(detected.value).index(await unpackedSource(given), {
      fileName: unpackedName(fileName),
      splits,
      progress,
    });
    return indexed as Result<IndexedPart[], SymbolFileProblem>;
  } catch (error) {
    if (error instanceof MalformedInput) return failure('damaged-symbol-file', `the file is damaged: ${error.message}`);
    throw error;
  }
}
