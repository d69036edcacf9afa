import type { SymbolFileKind } from '../../symbols/families.ts';
import type { SymbolIndex } from '../../symbols/open-index.ts';
import type { IndexOf } from '../../symbols/readers.ts';
import { type SymbolSource, type SymbolTie, sourceFrom } from '../symbol-source.ts';

/** A source that has files of one kind alone: the same for whatever is asked, or what a function gives. */
export const onlySource = <Kind extends SymbolFileKind>(
  kind: Kind,
  given: IndexOf<Kind> | null | ((tie: SymbolTie) => IndexOf<Kind> | null),
): SymbolSource =>
  sourceFrom((wanted, tie) => {
    if (wanted !== kind) return null;
    return (typeof given === 'function' ? (given as (tie: SymbolTie) => unknown)(tie) : given) as SymbolIndex['index'] | null;
  });
