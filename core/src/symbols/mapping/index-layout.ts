/** Numbers of the sections of a mapping index; `docs/symbol-index.md` says what each holds. */
export const mappingSections = {
  summary: 1,
  stringOffsets: 2,
  stringBytes: 3,
  classObfuscated: 10,
  classOriginal: 11,
  classFile: 12,
  classMethods: 13,
  classByOriginal: 14,
  classFields: 15,
  methodName: 20,
  methodEntries: 21,
  fieldName: 25,
  fieldOriginal: 26,
  fieldType: 27,
  entryStart: 30,
  entryEnd: 31,
  entryClass: 32,
  entryName: 33,
  entryParameters: 34,
  entryOriginalStart: 35,
  entryOriginalEnd: 36,
  entryFlags: 37,
  entryResult: 38,
  callSiteEntry: 40,
  callSitePositions: 41,
  positionOutlineLine: 42,
  positionLine: 43,
  rewriteEntry: 50,
  rewriteThrown: 51,
  rewriteRemoved: 52,
} as const;

/** Stands in a column of string numbers for "none". */
export const noString = 0xffff_ffff;

export const entryFlags = {
  hasRange: 1,
  hasOriginalStart: 2,
  hasOriginalEnd: 4,
  /** Belongs to the same inlined stack as the entry before: this method called that one. */
  callsPrevious: 8,
  /** Made by the compiler: not shown when the stack is restored. */
  synthesized: 16,
  outline: 32,
} as const;

/** What a mapping covers, kept inside its index. */
export interface MappingSummary {
  /** The id that R8 writes into the file and, on request, into every frame; null in other mappings. */
  readonly mapId: string | null;
  /** The program that wrote the mapping, as it names itself. */
  readonly compiler: string | null;
  readonly classes: number;
  readonly methods: number;
  readonly lines: number;
  readonly unreadableLines: number;
  /** The first few unreadable lines, 1-based, with their text cut short. */
  readonly warnings: readonly { readonly line: number; readonly text: string }[];
}
