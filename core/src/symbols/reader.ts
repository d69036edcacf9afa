import type { ByteSource } from '../bytes/byte-source.ts';
import type { Result } from '../result.ts';
import type { Progress } from './dwarf/read-dwarf.ts';
import type { DwarfSections } from './dwarf/sections.ts';
import type { BuiltIndex, IndexProblem, IndexSections } from './index-file.ts';

export type SymbolFileProblem = 'not-a-symbol-file' | 'damaged-symbol-file' | 'nothing-inside';

/** One index that came of a symbol file: a universal binary gives one for each of its slices. */
export interface Part<Kind extends string = string, Summary = unknown> {
  readonly kind: Kind;
  readonly name: string | null;
  readonly symbolId: string | null;
  readonly built: BuiltIndex<Summary>;
}

/** What an index is made from beside the bytes of the file. */
export interface Indexing {
  /** Names the image or script of a file that does not name it itself. */
  readonly fileName: string;
  /** Packages at hand that may hold the functions of units. */
  readonly splits: readonly DwarfSections[];
  readonly progress: Progress | undefined;
}

/** A form that symbol files of a family have. */
export interface SymbolFormat {
  readonly format: string;
  /** Such a file, for people: "script with its source map". */
  readonly title: string;
  /** Whether a file may be one, by its first bytes and its name. */
  readonly detect: (head: Uint8Array, fileName: string) => boolean;
  /** Whether a file that nobody named is meant: JSON and scripts are everywhere. All are, unless told. */
  readonly isMeant?: (fileName: string, source: ByteSource) => boolean | Promise<boolean>;
  readonly index: (source: ByteSource, indexing: Indexing) => Promise<Result<Part[], SymbolFileProblem>>;
}

/** How files of a family are read: their forms, and how their indexes are opened. */
export interface SymbolReader<Kind extends string, Index> {
  readonly kind: Kind;
  readonly formats: readonly SymbolFormat[];
  readonly open: (sections: IndexSections) => Result<Index, IndexProblem>;
}

/** Declares how a family is read. */
export const symbolReader = <const Kind extends string, const Formats extends readonly SymbolFormat[], Index>(reader: {
  readonly kind: Kind;
  readonly formats: Formats;
  readonly open: (sections: IndexSections) => Result<Index, IndexProblem>;
}) => reader;

export const readWhole = (source: ByteSource): Promise<Uint8Array> => source.read(0, source.sizeBytes);
