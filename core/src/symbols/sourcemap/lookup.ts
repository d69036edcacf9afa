import { lastAtOrBefore } from '../../bytes/last-at-or-before.ts';
import type { StringTable } from '../../bytes/string-table.ts';
import { type Result, success } from '../../result.ts';
import { type IndexProblem, type IndexReading, type IndexSections, readIndex } from '../index-file.ts';
import { CallsInSources } from './calls-in-sources.ts';
import { none, type SourceMapSummary, sourceMapSections as section } from './index-layout.ts';

/** A place of a script in the words of its sources. */
export interface SourcePosition {
  /** Path of the source as the map names it; null when it has no name. */
  readonly source: string | null;
  /** From 1. */
  readonly line: number;
  /** From 1. */
  readonly column: number;
  /** The function that encloses the place; null when the text of the source is not at hand. */
  readonly function: string | null;
  /** What the map calls the thing at this place; often that is the function being called there. */
  readonly name: string | null;
  /** A mapping begins at this very place, so that its name is of what stands here and not of what stands before. */
  readonly exact: boolean;
  /** The map says that the source is not the developer's own. */
  readonly ignored: boolean;
  /** Number of the source, for its lines. */
  readonly sourceIndex: number;
}

/** Looks places of a script up in the index of its source map by halving. */
export class SourceMapIndex {
  private readonly strings: StringTable;
  private readonly column: IndexReading<typeof section, SourceMapSummary>['column'];
  private readonly contents: Uint8Array;
  /** Which functions are called in the code of which, by the texts of the sources. */
  readonly calls: CallsInSources;
  readonly summary: SourceMapSummary;

  private constructor({ strings, column, bytes, summary }: IndexReading<typeof section, SourceMapSummary>) {
    this.strings = strings;
    this.column = column;
    this.contents = bytes('contentBytes');
    this.calls = new CallsInSources({
      strings,
      ...column,
      nameOf: (source) => this.text(column.sourceName[source] as number),
      linesOf: (source) => this.sourceLines(source, 1, Number.POSITIVE_INFINITY),
    });
    this.summary = summary;
  }

  /** Opens an index that the builder made, or its file; anything else is a problem in words. */
  static open(source: Uint8Array | IndexSections): Result<SourceMapIndex, IndexProblem> {
    const read = readIndex<typeof section, SourceMapSummary>(source, 'sourcemap', section);
    return read.ok ? success(new SourceMapIndex(read.value)) : read;
  }

  /**
   * What a place of the script came from; null when nothing maps to it. Line from 1, column from 0. The mapping that
   * begins last at or before the column holds, on that line only: ECMA-426 section 10.
   */
  lookup(line: number, column: number): SourcePosition | null {
    const { lineFirst, segmentColumn, segmentSource, segmentLine, segmentOriginalColumn, segmentName, sourceName } = this.column;
    if (!(line >= 1 && line < lineFirst.length)) return null;
    const from = lineFirst[line - 1] as number;
    const to = lineFirst[line] as number;
    const segment = from + lastAtOrBefore(segmentColumn.subarray(from, to), column);
    if (segment < from) return null;
    const source = segmentSource[segment] as number;
    if (source === none) return null;
    const originalLine = (segmentLine[segment] as number) + 1;
    const originalColumn = segmentOriginalColumn[segment] as number;
    return {
      source: this.text(sourceName[source] as number),
      line: originalLine,
      column: originalColumn + 1,
      function: this.functionAt(source, originalLine, originalColumn),
      name: this.text(segmentName[segment] as number),
      exact: segmentColumn[segment] === column,
      ignored: this.column.sourceIgnored[source] === 1,
      sourceIndex: source,
    };
  }

  /** The lines `[first, last]` of a source, both from 1; null when the map holds no text of it. */
  sourceLines(sourceIndex: number, first: number, last: number): string[] | null {
    const { contentOffsets } = this.column;
    const from = contentOffsets[sourceIndex] ?? 0;
    const to = contentOffsets[sourceIndex + 1] ?? 0;
    if (to <= from) return null;
    const content = new TextDecoder().decode(this.contents.subarray(from, to));
    return content.split(/\r\n|[\n\r\u2028\u2029]/).slice(Math.max(0, first - 1), last);
  }

  private text(id: number): string | null {
    return id === none ? null : this.strings.get(id);
  }

  private functionAt(source: number, line: number, column: number): string | null {
    const { sourceScopes, scopeLine, scopeColumn, scopeName } = this.column;
    let low = sourceScopes[source] as number;
    const first = low;
    let high = sourceScopes[source + 1] as number;
    while (low < high) {
      const middle = (low + high) >>> 1;
      const isBefore = (scopeLine[middle] as number) < line || (scopeLine[middle] === line && (scopeColumn[middle] as number) <= column);
      if (isBefore) low = middle + 1;
      else high = middle;
    }
    return low === first ? null : this.text(scopeName[low - 1] as number);
  }
}
