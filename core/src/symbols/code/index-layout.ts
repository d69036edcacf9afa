/** Section numbers of an index of machine code; `docs/symbol-index.md` describes each. */
export const codeSections = {
  summary: 1,
  stringOffsets: 2,
  stringBytes: 3,
  lineStart: 10,
  lineFile: 11,
  lineLine: 12,
  lineColumn: 13,
  pieceStart: 20,
  pieceScope: 21,
  scopeName: 30,
  scopeParent: 31,
  scopeCallFile: 32,
  scopeCallLine: 33,
  scopeCallColumn: 34,
  scopeStart: 35,
  symbolStart: 40,
  symbolEnd: 41,
  symbolName: 42,
} as const;

/** Stands for no file, no scope, no name, no parent. */
export const none = 0xffff_ffff;

/** A stretch of the file that is loaded into memory. */
export interface LoadedSegment {
  /** Where it lies in the file. */
  readonly fileOffset: number;
  readonly fileSize: number;
  /** Address as the file's own symbols count it. */
  readonly address: number;
  readonly memorySize: number;
  readonly executable: boolean;
}

export type CodeFormat = 'elf' | 'mach-o';

/** What an index of machine code says about itself. */
export interface CodeSummary {
  readonly format: CodeFormat;
  /** Such as `arm64`, `armv7`, `x86_64`. */
  readonly architecture: string;
  /** Build id or UUID in lower-case hexadecimal digits; null when the file carries none. */
  readonly symbolId: string | null;
  /** Lowest address of code; every address in the index counts from here. */
  readonly base: number;
  /** Address that the loader puts at the beginning of the image in memory. */
  readonly imageAddress: number;
  readonly segments: readonly LoadedSegment[];
  /** Where the names and lines came from. */
  readonly debugInformation: boolean;
  readonly units: number;
  readonly functions: number;
  readonly inlinedCalls: number;
  readonly lineRows: number;
  readonly symbols: number;
  /** Ids of split units whose .dwo or .dwp was not at hand, the first few; their functions have lines but no inlined calls. */
  readonly missingSplitUnits: readonly string[];
  readonly missingSplitUnitCount: number;
  /** What could not be read, the first few, in words. */
  readonly warnings: readonly string[];
  readonly warningCount: number;
}
