import { failure, type Result, success } from '../result.ts';
import { CodeIndex } from './code/lookup.ts';
import { ObfuscationMapIndex } from './dart/obfuscation-map.ts';
import { SplitUnits } from './elf/split-units.ts';
import { type IndexKind, type IndexProblem, type IndexSections, openIndexFile } from './index-file.ts';
import { MappingIndex } from './mapping/lookup.ts';
import { AssemblyIndex } from './pdb/assembly-index.ts';
import { PdbIndex } from './pdb/pdb-index.ts';
import { SourceMapIndex } from './sourcemap/lookup.ts';

/** An index of any kind, ready to be asked. */
export type SymbolIndex =
  | { readonly kind: 'mapping'; readonly index: MappingIndex }
  | { readonly kind: 'code'; readonly index: CodeIndex }
  | { readonly kind: 'sourcemap'; readonly index: SourceMapIndex }
  | { readonly kind: 'pdb'; readonly index: PdbIndex }
  | { readonly kind: 'assembly'; readonly index: AssemblyIndex }
  | { readonly kind: 'obfuscation-map'; readonly index: ObfuscationMapIndex }
  | { readonly kind: 'split'; readonly index: SplitUnits };

const openers: Readonly<Record<IndexKind, (sections: IndexSections) => Result<SymbolIndex['index'], IndexProblem>>> = {
  mapping: (sections) => MappingIndex.open(sections),
  code: (sections) => CodeIndex.open(sections),
  sourcemap: (sections) => SourceMapIndex.open(sections),
  pdb: (sections) => PdbIndex.open(sections),
  'obfuscation-map': (sections) => ObfuscationMapIndex.open(sections),
  split: (sections) => SplitUnits.open(sections),
  assembly: (sections) => AssemblyIndex.open(sections),
};

/** Opens an index of whatever kind it is, from its file or just built. */
export function openSymbolIndex(source: Uint8Array | IndexSections): Result<SymbolIndex, IndexProblem> {
  const opened = source instanceof Uint8Array ? openIndexFile(source) : success(source);
  if (!opened.ok) return opened;
  const { kind } = opened.value;
  const index = openers[kind](opened.value);
  return index.ok ? success({ kind, index: index.value } as SymbolIndex) : failure(index.problem.code, index.problem.message);
}
