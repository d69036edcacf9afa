import { MalformedInput } from '../bytes/byte-reader.ts';
import { type ByteSource, readHead } from '../bytes/byte-source.ts';
import { failure, type Result, success } from '../result.ts';
import type { CodeSummary } from './code/index-layout.ts';
import { indexObfuscationMap, type ObfuscationMapSummary } from './dart/obfuscation-map.ts';
import { detectSymbolFile } from './detect.ts';
import type { Progress } from './dwarf/read-dwarf.ts';
import type { DwarfSections } from './dwarf/sections.ts';
import { indexElf, readDebugLink } from './elf/index-elf.ts';
import { indexSplitUnits, isSplitFile, type SplitSummary } from './elf/split-units.ts';
import type { BuiltIndex } from './index-file.ts';
import { indexMachO } from './macho/index-macho.ts';
import { slicesOf } from './macho/macho-file.ts';
import { MappingIndexBuilder } from './mapping/index-builder.ts';
import type { MappingSummary } from './mapping/index-layout.ts';
import { unpackedName, unpackedSource } from './packed.ts';
import { type AssemblySummary, indexAssembly } from './pdb/assembly-index.ts';
import { indexPdb, type PdbSummary } from './pdb/pdb-index.ts';
import { readAssemblyFile } from './pdb/pe-file.ts';
import { scriptName } from './script-name.ts';
import { indexSourceMap } from './sourcemap/index-builder.ts';
import type { SourceMapSummary } from './sourcemap/index-layout.ts';
import { mapInside } from './sourcemap/script-with-map.ts';

export type SymbolFileProblem = 'not-a-symbol-file' | 'damaged-symbol-file' | 'nothing-inside';

/** One index that came of a symbol file: a universal binary gives one for each of its slices. */
export type IndexedPart = { readonly name: string | null; readonly symbolId: string | null } & (
  | { readonly kind: 'mapping'; readonly built: BuiltIndex<MappingSummary> }
  | { readonly kind: 'code'; readonly built: BuiltIndex<CodeSummary> }
  | { readonly kind: 'sourcemap'; readonly built: BuiltIndex<SourceMapSummary> }
  | { readonly kind: 'pdb'; readonly built: BuiltIndex<PdbSummary> }
  | { readonly kind: 'assembly'; readonly built: BuiltIndex<AssemblySummary> }
  | { readonly kind: 'obfuscation-map'; readonly built: BuiltIndex<ObfuscationMapSummary> }
  | { readonly kind: 'split'; readonly built: BuiltIndex<SplitSummary> }
);

const chunkBytes = 1 << 20;

/**
 * Makes the indexes of a symbol file of any kind; `fileName` names its image or script where the file itself does not,
 * `splits` are the packages at hand that may hold the functions of its units.
 */
export async function indexSymbolFile(
  given: ByteSource,
  { fileName: givenName, splits = [], progress }: { fileName: string; splits?: readonly DwarfSections[]; progress?: Progress },
): Promise<Result<IndexedPart[], SymbolFileProblem>> {
  const detected = await detectSymbolFile(await readHead(given, 64 * 1024), givenName);
  if (!detected.ok) return detected;
  const fileName = unpackedName(givenName);
  try {
    const source = await unpackedSource(given);
    switch (detected.value) {
      case 'mapping':
        return await indexMappingSource(source, progress);
      case 'sourcemap':
        return indexMap(await readWhole(source), fileName.replace(/\.map$/, ''), progress);
      case 'script': {
        const inside = mapInside(await readWhole(source));
        return inside.ok ? indexMap(inside.value, fileName, progress, 'of the script') : failure('nothing-inside', inside.problem.message);
      }
      case 'elf':
        if (await isSplitFile(source))
          return success([{ kind: 'split', name: fileName, symbolId: null, built: await indexSplitUnits(source) }]);
        return codeParts([await indexElf(source, { splits, ...(progress ? { progress } : {}) })], fileName, await readDebugLink(source));
      case 'mach-o': {
        const built: BuiltIndex<CodeSummary>[] = [];
        for (const slice of await slicesOf(source)) built.push(await indexMachO(slice, progress));
        return codeParts(built, fileName);
      }
      case 'obfuscation-map': {
        const indexed = indexObfuscationMap(await readWhole(source));
        if (!indexed.ok) return failure('damaged-symbol-file', indexed.problem.message);
        return success([{ kind: 'obfuscation-map', name: null, symbolId: null, built: indexed.value }]);
      }
      case 'portable-pdb':
        return success([pdbPart(await readWhole(source), assemblyNameOf(fileName))]);
      case 'assembly':
        return success(await assemblyParts(await readWhole(source)));
    }
  } catch (error) {
    if (error instanceof MalformedInput) return failure('damaged-symbol-file', `the file is damaged: ${error.message}`);
    throw error;
  }
}

/** A map that names no script is of the one that its file is named after; one inside a script is of that script. */
function indexMap(
  bytes: Uint8Array,
  script: string,
  progress: Progress | undefined,
  named: 'by itself' | 'of the script' = 'by itself',
): Result<IndexedPart[], SymbolFileProblem> {
  const indexed = indexSourceMap(bytes, progress ? { progress } : {});
  if (!indexed.ok) return failure('damaged-symbol-file', indexed.problem.message);
  const { file, debugId } = indexed.value.summary;
  const name = file === null || named === 'of the script' ? script : scriptName(file);
  return success([{ kind: 'sourcemap', name, symbolId: debugId, built: indexed.value }]);
}

async function indexMappingSource(source: ByteSource, progress: Progress | undefined): Promise<Result<IndexedPart[], SymbolFileProblem>> {
  const builder = new MappingIndexBuilder();
  for (let at = 0; at < source.sizeBytes; at += chunkBytes) {
    progress?.(at, source.sizeBytes);
    const added = builder.add(await source.read(at, Math.min(chunkBytes, source.sizeBytes - at)));
    if (!added.ok) return failure('damaged-symbol-file', added.problem.message, added.problem.line);
  }
  const finished = builder.finish();
  if (!finished.ok) return failure('damaged-symbol-file', finished.problem.message, finished.problem.line);
  return success([{ kind: 'mapping', name: null, symbolId: finished.value.summary.mapId, built: finished.value }]);
}

const readWhole = (source: ByteSource): Promise<Uint8Array> => source.read(0, source.sizeBytes);

function pdbPart(bytes: Uint8Array, name: string): IndexedPart {
  const built = indexPdb(bytes);
  return { kind: 'pdb', name, symbolId: built.summary.symbolId, built };
}

/** An assembly names its methods and its PDB, which it may hold itself. */
async function assemblyParts(bytes: Uint8Array): Promise<IndexedPart[]> {
  const file = await readAssemblyFile(bytes);
  const built = indexAssembly(file);
  const { name, symbolId } = built.summary;
  const assembly: IndexedPart = { kind: 'assembly', name, symbolId, built };
  return file.embeddedPdb ? [assembly, pdbPart(file.embeddedPdb, name)] : [assembly];
}

/** `debugLink` is the file that a stripped binary says its debug information was moved to. */
function codeParts(
  built: readonly BuiltIndex<CodeSummary>[],
  fileName: string,
  debugLink: string | null = null,
): Result<IndexedPart[], SymbolFileProblem> {
  const useful = built.filter(({ summary }) => summary.debugInformation || summary.symbols > 0);
  if (useful.length === 0)
    return failure(
      'nothing-inside',
      'the binary holds neither debug information nor function symbols: it was stripped; ' +
        (debugLink === null
          ? 'upload the unstripped file of the same build'
          : `it says that its debug information is in "${debugLink}": upload that file`),
    );
  const name = imageNameOf(fileName);
  return success(useful.map((one) => ({ kind: 'code', name, symbolId: one.summary.symbolId, built: one })));
}

const assemblyNameOf = (fileName: string): string => fileName.replace(/^.*[\\/]/, '').replace(/\.pdb$/i, '');

/** The name of the image that a file with debug information belongs to. */
const imageNameOf = (fileName: string): string => fileName.replace(/\.(?:debug|dbg|sym|symbols|unstripped|dwarf)$/, '');
