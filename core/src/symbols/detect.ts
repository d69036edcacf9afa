import { failure, type Result, success } from '../result.ts';
import { isZip } from './archive.ts';
import { wordAllFiles } from './families.ts';
import { describeFile } from './identify.ts';
import { unpackedHead } from './packed.ts';
import { type SymbolFileFormat, symbolFormats } from './readers.ts';

/** What kind of symbol file begins like this; anything else is refused with what it looks like. A file of gzip is what it holds. */
export async function detectSymbolFile(packedHead: Uint8Array, fileName: string): Promise<Result<SymbolFileFormat, 'not-a-symbol-file'>> {
  const head = await unpackedHead(packedHead);
  const found = symbolFormats.find(({ detect }) => detect(head, fileName));
  if (found) return success(found.format);
  if (new TextDecoder().decode(head.subarray(0, 30)).startsWith('Microsoft C/C++ MSF'))
    return failure(
      'not-a-symbol-file',
      'This is a PDB in the older form that only Windows uses. Build with <DebugType>portable</DebugType> and send that PDB.',
    );
  if (isZip(head))
    return failure(
      'not-a-symbol-file',
      'This looks like a ZIP archive. Unpack it and send the symbol files in it, or hand it to "ember upload" or the Bench, which look into archives.',
    );
  return failure(
    'not-a-symbol-file',
    `This looks like ${describeFile(head)}. Symbol files are ${wordAllFiles()}, each also as a file of gzip (.gz).`,
  );
}
