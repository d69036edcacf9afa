import { failure, type Result, success } from '../result.ts';
import { CodeIndex } from './code/lookup.ts';
import { type IndexProblem, type IndexSections, openIndexFile } from './index-file.ts';
import { MappingIndex } from './mapping/lookup.ts';
import { SourceMapIndex } from './sourcemap/lookup.ts';

/** An index of any kind, ready to be asked. */
export type SymbolIndex =
  | { readonly kind: 'mapping'; readonly index: MappingIndex }
  | { readonly kind: 'code'; readonly index: CodeIndex }
  | { readonly kind: 'sourcemap'; readonly index: SourceMapIndex };

/** Opens an index of whatever kind it is, from its file or just built. */
export function openSymbolIndex(source: Uint8Array | IndexSections): Result<SymbolIndex, IndexProblem> {
  const opened = source instanceof Uint8Array ? openIndexFile(source) : success(source);
  if (!opened.ok) return opened;
  const { kind } = opened.value;
  const index =
    kind === 'mapping'
      ? MappingIndex.open(opened.value)
      : kind === 'code'
        ? CodeIndex.open(opened.value)
        : SourceMapIndex.open(opened.value);
  return index.ok ? success({ kind, index: index.value } as SymbolIndex) : failure(index.problem.code, index.problem.message);
}
