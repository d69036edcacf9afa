import { lastAtOrBefore } from '../../bytes/last-at-or-before.ts';
import type { StringTable } from '../../bytes/string-table.ts';
import { type Result, success } from '../../result.ts';
import { type IndexProblem, type IndexReading, type IndexSections, readIndex } from '../index-file.ts';
import { type CodeSummary, none, codeSections as section } from './index-layout.ts';

/** One function at an address: the code itself, or a call that was inlined around it. */
export interface CodeFrame {
  /** As the compiler wrote it, usually mangled; null when nothing names the function. */
  readonly name: string | null;
  /** Path that the compiler was given; null when not known. */
  readonly file: string | null;
  /** From 1; null for code that belongs to no line. */
  readonly line: number | null;
  /** From 1; null when not known. */
  readonly column: number | null;
  readonly inlined: boolean;
}

export type CodeMatch =
  /** Nothing in the file lies at this address. */
  | { readonly state: 'not-covered' }
  /** Only the symbol table knows the place: a function without lines. */
  | { readonly state: 'symbol'; readonly frames: readonly CodeFrame[]; readonly functionOffset: number }
  /** Innermost inlined call first; the last frame is the function itself. */
  | { readonly state: 'found'; readonly frames: readonly CodeFrame[]; readonly functionOffset: number | null };

/** Looks addresses up in an index of machine code by halving; nothing of the binary is parsed again. */
export class CodeIndex {
  private readonly strings: StringTable;
  private readonly column: IndexReading<typeof section, CodeSummary>['column'];
  readonly summary: CodeSummary;

  private constructor({ strings, column, summary }: IndexReading<typeof section, CodeSummary>) {
    this.strings = strings;
    this.column = column;
    this.summary = summary;
  }

  /** Opens an index that the builder made, or its file; anything else is a problem in words. */
  static open(source: Uint8Array | IndexSections): Result<CodeIndex, IndexProblem> {
    const read = readIndex<typeof section, CodeSummary>(source, 'code', section);
    return read.ok ? success(new CodeIndex(read.value)) : read;
  }

  /**
   * What lies at an address as the file's own symbols count it. For a return address give an address inside the call
   * instruction before it.
   */
  lookup(address: number): CodeMatch {
    const place = this.withoutThumbBit(address) - this.summary.base;
    if (!(place >= 0 && place < none)) return { state: 'not-covered' };
    const scope = this.scopeAt(place);
    const row = this.rowAt(place);
    const symbol = this.symbolAt(place);
    if (scope === none && row < 0) {
      if (symbol < 0) return { state: 'not-covered' };
      const frame = { name: this.symbolName(symbol), file: null, line: null, column: null, inlined: false };
      return { state: 'symbol', frames: [frame], functionOffset: place - (this.column.symbolStart[symbol] as number) };
    }
    const frames: CodeFrame[] = [];
    let position = row < 0 ? noPosition : this.rowPosition(row);
    let current = scope;
    while (current !== none) {
      const parent = this.column.scopeParent[current] as number;
      frames.push({ name: this.scopeName(current, parent === none ? symbol : -1), ...position, inlined: parent !== none });
      position = this.callPosition(current);
      if (parent === none) break;
      current = parent;
    }
    if (frames.length === 0) frames.push({ name: symbol < 0 ? null : this.symbolName(symbol), ...position, inlined: false });
    return { state: 'found', frames, functionOffset: this.functionOffset(place, current, symbol) };
  }

  /** The address as the file counts it, of bytes behind the place where the image begins in memory. */
  addressOfImageOffset(offset: number): number {
    return this.summary.imageAddress + offset;
  }

  /** The address of a place in the file, which some systems print; null when nothing there is loaded. */
  addressOfFileOffset(offset: number): number | null {
    const segment = this.summary.segments.find((one) => offset >= one.fileOffset && offset < one.fileOffset + one.fileSize);
    return segment ? segment.address + (offset - segment.fileOffset) : null;
  }

  /** On 32-bit ARM the lowest bit of a code address says which instruction set runs (AAELF32 section 5.5.3). */
  private withoutThumbBit(address: number): number {
    return this.summary.architecture.startsWith('armv') && address % 2 === 1 ? address - 1 : address;
  }

  private scopeAt(place: number): number {
    const piece = lastAtOrBefore(this.column.pieceStart, place);
    return piece < 0 ? none : (this.column.pieceScope[piece] as number);
  }

  private rowAt(place: number): number {
    const row = lastAtOrBefore(this.column.lineStart, place);
    return row < 0 || this.column.lineFile[row] === none ? -1 : row;
  }

  private symbolAt(place: number): number {
    const symbol = lastAtOrBefore(this.column.symbolStart, place);
    const isNamed = symbol >= 0 && place < (this.column.symbolEnd[symbol] as number) && this.column.symbolName[symbol] !== none;
    return isNamed ? symbol : -1;
  }

  private rowPosition(row: number): Position {
    return this.position(this.column.lineFile[row] as number, this.column.lineLine[row] as number, this.column.lineColumn[row] as number);
  }

  private callPosition(scope: number): Position {
    return this.position(
      this.column.scopeCallFile[scope] as number,
      this.column.scopeCallLine[scope] as number,
      this.column.scopeCallColumn[scope] as number,
    );
  }

  private position(file: number, line: number, column: number): Position {
    return { file: file === none ? null : this.strings.get(file), line: line || null, column: (line && column) || null };
  }

  private symbolName(symbol: number): string {
    return this.strings.get(this.column.symbolName[symbol] as number);
  }

  /**
   * Debug information names the function. Where it was written with lines only, it holds the bare name: then the symbol
   * that stands for exactly this function, and holds that name, tells it in full.
   */
  private scopeName(scope: number, symbol: number): string | null {
    const id = this.column.scopeName[scope] as number;
    const name = id === none ? null : this.strings.get(id);
    if (symbol < 0 || this.column.symbolStart[symbol] !== this.column.scopeStart[scope]) return name;
    const full = this.symbolName(symbol);
    return name === null || (isBare(name) && stands(full, ownName(name))) ? full : name;
  }

  private functionOffset(place: number, scope: number, symbol: number): number | null {
    if (scope !== none) return place - (this.column.scopeStart[scope] as number);
    return symbol < 0 ? null : place - (this.column.symbolStart[symbol] as number);
  }
}

type Position = Pick<CodeFrame, 'file' | 'line' | 'column'>;
const noPosition: Position = { file: null, line: null, column: null };

/** The name of the function itself: without the scopes before it and the arguments behind it. */
function ownName(name: string): string {
  let depth = 0;
  let end = name.length;
  for (let at = name.length - 1; at >= 0; at--) {
    const letter = name[at];
    if (letter === '>' || letter === ')') depth++;
    else if (letter === '<' || letter === '(') {
      depth--;
      if (depth === 0) end = at;
    } else if (letter === ':' && depth === 0) return name.slice(at + 1, end);
  }
  return name.slice(0, end);
}

/** Whether a symbol can stand for a function of this name; operators are spelled as letters in symbols. */
const stands = (symbol: string, name: string): boolean => symbol.includes(name) || (name.startsWith('operator') && !isBare(symbol));

const isBare = (name: string): boolean => !/^(?:_Z|__Z|_R|\$s|_\$s|_T)/.test(name);
