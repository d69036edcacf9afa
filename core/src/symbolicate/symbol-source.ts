import type { CodeIndex } from '../symbols/code/lookup.ts';
import type { MappingIndex } from '../symbols/mapping/lookup.ts';
import type { SourceMapIndex } from '../symbols/sourcemap/lookup.ts';
import type { SymbolNeed } from './readable-report.ts';

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
}

export const noSymbols: SymbolSource = { mapping: () => null, code: () => null, sourceMap: () => null };
