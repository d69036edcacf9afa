/** Section numbers of an index of a source map; `docs/symbol-index.md` describes each. */
export const sourceMapSections = {
  summary: 1,
  stringOffsets: 2,
  stringBytes: 3,
  lineFirst: 10,
  segmentColumn: 11,
  segmentSource: 12,
  segmentLine: 13,
  segmentOriginalColumn: 14,
  segmentName: 15,
  sourceName: 20,
  contentOffsets: 21,
  sourceIgnored: 22,
  sourceScopes: 23,
  contentBytes: 24,
  scopeLine: 30,
  scopeColumn: 31,
  scopeName: 32,
} as const;

/** Stands for no source, no name, no content. */
export const none = 0xffff_ffff;

/** What an index of a source map says about itself. */
export interface SourceMapSummary {
  /** Name of the script, as the map tells it; null when it does not. */
  readonly file: string | null;
  /** Lower-case hexadecimal digits; null when the map carries none. */
  readonly debugId: string | null;
  readonly sources: number;
  /** Sources whose text is in the map. */
  readonly sourcesWithText: number;
  readonly lines: number;
  readonly segments: number;
  /** Functions found in the texts of the sources. */
  readonly functions: number;
  readonly warnings: readonly string[];
  readonly warningCount: number;
}
