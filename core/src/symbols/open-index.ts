import { failure, type Result, success } from '../result.ts';
import type { SymbolFileKind } from './families.ts';
import { type IndexProblem, type IndexSections, openIndexFile } from './index-file.ts';
import { type IndexOf, symbolReaders } from './readers.ts';

/** An index of any kind, ready to be asked. */
export type SymbolIndex = { readonly [Kind in SymbolFileKind]: { readonly kind: Kind; readonly index: IndexOf<Kind> } }[SymbolFileKind];

/** Opens an index of whatever kind it is, from its file or just built. */
export function openSymbolIndex(source: Uint8Array | IndexSections): Result<SymbolIndex, IndexProblem> {
  const opened = source instanceof Uint8Array ? openIndexFile(source) : success(source);
  if (!opened.ok) return opened;
  const { kind } = opened.value;
  const reader = symbolReaders.find((one) => one.kind === kind) as (typeof symbolReaders)[number];
  const index = reader.open(opened.value);
  return index.ok ? success({ kind, index: index.value } as SymbolIndex) : failure(index.problem.code, index.problem.message);
}
