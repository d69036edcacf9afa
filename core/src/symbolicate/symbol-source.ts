import type { CodeIndex } from '../symbols/code/lookup.ts';
import type { ObfuscationMapIndex } from '../symbols/dart/obfuscation-map.ts';
import type { MappingIndex } from '../symbols/mapping/lookup.ts';
import type { SymbolIndex } from '../symbols/open-index.ts';
import type { AssemblyIndex } from '../symbols/pdb/assembly-index.ts';
import type { PdbIndex } from '../symbols/pdb/pdb-index.ts';
import type { SourceMapIndex } from '../symbols/sourcemap/lookup.ts';
import type { SymbolFileKind, SymbolNeed } from './readable-report.ts';

/** What ties a symbol file to what frames print: an id, or where there is none the name of the image or script. */
export type SymbolTie = Pick<SymbolNeed, 'symbolId' | 'name'>;

/**
 * Where symbolication finds its symbol files. Each call gives the file of exactly this id or, for an id of null, the one
 * of the report's version and build; null when there is none. A file of another build must never be given.
 */
export interface SymbolSource {
  mapping(mapId: string | null): MappingIndex | null;
  code(image: SymbolTie): CodeIndex | null;
  sourceMap(script: SymbolTie): SourceMapIndex | null;
  assembly(module: SymbolTie): AssemblyIndex | null;
  pdb(module: SymbolTie): PdbIndex | null;
  /** Nothing but version and build ties it. */
  obfuscationMap(): ObfuscationMapIndex | null;
}

/** A source that asks one function for the index of each kind. */
export const sourceFrom = (find: (kind: SymbolFileKind, tie: SymbolTie) => SymbolIndex['index'] | null): SymbolSource => ({
  mapping: (mapId) => find('mapping', { symbolId: mapId, name: null }) as MappingIndex | null,
  code: (image) => find('code', image) as CodeIndex | null,
  sourceMap: (script) => find('sourcemap', script) as SourceMapIndex | null,
  assembly: (module) => find('assembly', module) as AssemblyIndex | null,
  pdb: (module) => find('pdb', module) as PdbIndex | null,
  obfuscationMap: () => find('obfuscation-map', { symbolId: null, name: null }) as ObfuscationMapIndex | null,
});

export const noSymbols: SymbolSource = sourceFrom(() => null);
