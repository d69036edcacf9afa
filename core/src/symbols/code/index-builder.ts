import { ByteNames } from '../../bytes/byte-names.ts';
import type { BuiltIndex, Section } from '../index-file.ts';
import { type CodeSummary, codeSections } from './index-layout.ts';
import { LineRows } from './line-rows.ts';
import { Scopes } from './scopes.ts';
import { type CodeSymbol, sortSymbols } from './symbol-list.ts';
import { Warnings } from './warnings.ts';

interface Stretch {
  readonly start: number;
  end: number;
}

/** Collects what the readers of a binary find, and makes one index of it. All addresses count from the base. */
export class CodeIndexBuilder {
  readonly names = new ByteNames();
  readonly lines = new LineRows();
  readonly scopes = new Scopes();
  readonly symbols: CodeSymbol[] = [];
  readonly warnings = new Warnings();
  readonly missingSplitUnits: string[] = [];
  units = 0;

  /** Ascending, none overlapping another. */
  private readonly code: Stretch[] = [];

  /** @param code stretches that are code, as distances from the base */
  constructor(code: readonly Stretch[]) {
    for (const { start, end } of [...code].sort((a, b) => a.start - b.start)) {
      const last = this.code.at(-1);
      if (last && start < last.end) last.end = Math.max(last.end, end);
      else this.code.push({ start, end });
    }
  }

  /** Whether a place lies in code: what a linker dropped is left pointing elsewhere. */
  isCode(place: number): boolean {
    return this.stretchAt(place) !== undefined;
  }

  private stretchAt(place: number): Stretch | undefined {
    let low = 0;
    let high = this.code.length;
    while (low < high) {
      const middle = (low + high) >>> 1;
      if ((this.code[middle] as Stretch).start <= place) low = middle + 1;
      else high = middle;
    }
    const stretch = this.code[low - 1];
    return stretch && place < stretch.end ? stretch : undefined;
  }

  finish(about: Pick<CodeSummary, 'format' | 'architecture' | 'symbolId' | 'base' | 'imageAddress' | 'segments'>): BuiltIndex<CodeSummary> {
    const lines = this.lines.sorted();
    const pieces = this.scopes.sorted();
    const symbols = sortSymbols(this.symbols, (start) => this.stretchAt(start)?.end ?? start);
    const summary: CodeSummary = {
      ...about,
      debugInformation: lines.start.length > 0 || this.scopes.functions > 0,
      units: this.units,
      functions: this.scopes.functions,
      inlinedCalls: this.scopes.name.length - this.scopes.functions,
      lineRows: lines.start.length,
      symbols: symbols.start.length,
      missingSplitUnits: this.missingSplitUnits.slice(0, 20),
      missingSplitUnitCount: this.missingSplitUnits.length,
      warnings: this.warnings.list,
      warningCount: this.warnings.count,
    };
    const strings = this.names.encode();
    const sections = new Map<number, Section>([
      [codeSections.summary, new TextEncoder().encode(JSON.stringify(summary))],
      [codeSections.stringOffsets, strings.offsets],
      [codeSections.stringBytes, strings.bytes],
      [codeSections.lineStart, lines.start],
      [codeSections.lineFile, lines.file],
      [codeSections.lineLine, lines.line],
      [codeSections.lineColumn, lines.column],
      [codeSections.pieceStart, pieces.start],
      [codeSections.pieceScope, pieces.scope],
      [codeSections.scopeName, this.scopes.name.toColumn()],
      [codeSections.scopeParent, this.scopes.parent.toColumn()],
      [codeSections.scopeCallFile, this.scopes.callFile.toColumn()],
      [codeSections.scopeCallLine, this.scopes.callLine.toColumn()],
      [codeSections.scopeCallColumn, this.scopes.callColumn.toColumn()],
      [codeSections.scopeStart, this.scopes.start.toColumn()],
      [codeSections.symbolStart, symbols.start],
      [codeSections.symbolEnd, symbols.end],
      [codeSections.symbolName, symbols.name],
    ]);
    return { kind: 'code', sections, summary };
  }
}
