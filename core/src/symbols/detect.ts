import { failure, type Result, success } from '../result.ts';
import { isZip } from './archive.ts';
import { isObfuscationMap } from './dart/obfuscation-map.ts';
import { isElf } from './elf/elf-file.ts';
import { describeFile } from './identify.ts';
import { isThinMachO, isUniversalMachO } from './macho/macho-file.ts';
import { detectMapping } from './mapping/detect.ts';
import { unpackedHead, unpackedName } from './packed.ts';
import { isMetadata } from './pdb/metadata.ts';
import { isPortableExecutable } from './pdb/pe-file.ts';
import { isScriptName } from './sourcemap/script-with-map.ts';

export type SymbolFileFormat = 'mapping' | 'sourcemap' | 'script' | 'elf' | 'mach-o' | 'portable-pdb' | 'assembly' | 'obfuscation-map';

/**
 * What kind of symbol file begins like this; anything else is refused with what it looks like. A file of gzip is what it holds. Only its
 * name tells a script, which may hold its map.
 */
export async function detectSymbolFile(packedHead: Uint8Array, fileName: string): Promise<Result<SymbolFileFormat, 'not-a-symbol-file'>> {
  const head = await unpackedHead(packedHead);
  if (isElf(head)) return success('elf');
  if (isThinMachO(head) || isUniversalMachO(head)) return success('mach-o');
  if (isMetadata(head)) return success('portable-pdb');
  if (isPortableExecutable(head)) return success('assembly');
  if (isObfuscationMap(head)) return success('obfuscation-map');
  if (isScriptName(unpackedName(fileName)) && !head.includes(0)) return success('script');
  // A source map is one JSON object; its keys may come in any order and behind megabytes of text.
  if (/^\s*(?:\)\]\}'[^\n]*\n\s*)?\{/.test(new TextDecoder().decode(head.subarray(0, 256))) && !detectMapping(head).ok)
    return success('sourcemap');
  if (detectMapping(head).ok) return success('mapping');
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
    `This looks like ${describeFile(head)}. Symbol files are ELF and Mach-O files with debug information or symbols (.so, .debug, dSYM), obfuscation mappings (mapping.txt), source maps (.map, or inside their script), portable PDBs (.pdb), .NET assemblies (.dll) and the obfuscation maps of Dart (.json), each also as a file of gzip (.gz).`,
  );
}
