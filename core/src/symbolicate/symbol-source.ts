import type { SymbolFileKind } from '../symbols/families.ts';
import type { SymbolIndex } from '../symbols/open-index.ts';
import type { IndexOf } from '../symbols/readers.ts';
import type { SymbolNeed } from './readable-report.ts';

/** What ties a symbol file to what frames print: an id, or where there is none the name of the image or script. */
export type SymbolTie = Pick<SymbolNeed, 'symbolId' | 'name'>;

/**
 * Where symbolication finds its symbol files. It gives the file of exactly this id or, for an id of null, the one
 * of the report's version and build; null when there is none. A file of another build must never be given.
 */
export interface SymbolSource {
  find<Kind extends SymbolFileKind>(kind: Kind, tie: SymbolTie): IndexOf<Kind> | null;
}

/** A source that asks one function for the index of each kind. */
export const sourceFrom = (find: (kind: SymbolFileKind, tie: SymbolTie) => SymbolIndex['index'] | null): SymbolSource => ({
  find: <Kind extends SymbolFileKind>(kind: Kind, tie: SymbolTie) => find(kind, tie) as IndexOf<Kind> | null,
});

/** The tie of a file that nothing but version and build ties. */
export const byBuild: SymbolTie = { symbolId: null, name: null };

export const noSymbols: SymbolSource = sourceFrom(() => null);
