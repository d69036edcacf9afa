import { wordCount } from '../words/count.ts';

/** What an index of a symbol file covers, for people. */
export interface Coverage {
  /** What the file is, where its summary tells more than the family does. */
  readonly title?: string;
  /** What it holds: "24 classes, 96 methods". */
  readonly covers: string;
  /** More of that, for whoever looks closely. */
  readonly details?: string;
  /** What it lacks, or could not be read of it. */
  readonly warnings: readonly string[];
  /** Ids of other files that it names, under what they are of. */
  readonly names?: readonly (readonly [of: string, id: string])[];
}

/**
 * Symbol files of one purpose: obfuscated names, machine code, bundled scripts. What is told of them stands here, in the folder of the
 * family; how they are read stands in its `reader.ts`, so that a screen that only tells of them loads no reader.
 */
export interface SymbolFamily<Kind extends string = string, Summary = never> {
  /** Names it in the schema, the API and indexes. */
  readonly kind: Kind;
  /** Number in the header of an index; none is ever given to another family. */
  readonly number: number;
  /** What a file of it is: "portable PDB". */
  readonly title: string;
  /** Such files in a list of what can be uploaded: "portable PDBs (.pdb)". */
  readonly files: string;
  /** What somebody lacks without it, for an image or script or alone: "PDB of App". */
  readonly called: (name: string | null) => string;
  /** "symbols are missing", not "is". */
  readonly isPlural?: boolean;
  /** The file that a developer has at hand, as a word in a command. */
  readonly usualFile: (name: string | null) => string;
  /** What a stack shows as long as the file is missing. */
  readonly withoutIt: string;
  /** That a file which frames ask for is not there, and what to do, as a command says it. */
  readonly missing: (asked: { readonly symbolId: string | null; readonly name: string | null }) => string;
  /** A build has one file for each name, and nothing but version and build ties it where it has no id. */
  readonly isOfBuild?: boolean;
  /** Neither an id of its own nor a build need tie it. */
  readonly isTiedByContent?: boolean;
  /** An id is a hash of which tools print this many digits or all; ids of other families are GUIDs and build ids. */
  readonly shortIdDigits?: number;
  /** The id stands in its head, which somebody may have taken off: then version and build tie it. */
  readonly mayLoseId?: boolean;
  readonly describe: (summary: Summary) => Coverage;
}

/** Declares a family under its kind. */
export const symbolFamily = <const Kind extends string, Summary>(family: SymbolFamily<Kind, Summary>): SymbolFamily<Kind, Summary> =>
  family;

/** The first of several warnings, and how many more there are. */
export function firstWarning(warnings: readonly string[], count: number): string[] {
  const [first] = warnings;
  return first === undefined ? [] : [count > 1 ? `${first}; and ${wordCount(count - 1, 'more warning', 'more warnings')}` : first];
}
