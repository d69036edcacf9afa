import { lastAtOrBefore } from '../../bytes/last-at-or-before.ts';
import type { StringTable } from '../../bytes/string-table.ts';
import { type Result, success } from '../../result.ts';
import { type IndexProblem, type IndexReading, type IndexSections, readIndex } from '../index-file.ts';
import { entryFlags, type MappingSummary, noString, mappingSections as section } from './index-layout.ts';

/** One original method of a restored stack. */
export interface MappedFrame {
  readonly class: string;
  readonly method: string;
  readonly parameters: string;
  /** 1-based; null when the mapping does not tell. */
  readonly line: number | null;
  /** The source file that the mapping names for the class; null when it names none. */
  readonly file: string | null;
}

export type MappingMatch =
  /** No such class in the mapping. */
  | { readonly state: 'class-unknown' }
  /** The class is known, the method is not: it kept its name. */
  | { readonly state: 'method-unknown'; readonly class: string; readonly file: string | null }
  /**
   * The possible original stacks, the likeliest first, each innermost call first. More than one: the mapping
   * leaves it open. `lineCovered` is false when the line lies in no range of the method.
   */
  | { readonly state: 'found'; readonly alternatives: readonly (readonly MappedFrame[])[]; readonly lineCovered: boolean }
  /** Code that the compiler moved out of several methods: no frame of its own, but its line chooses the caller's. */
  | { readonly state: 'outline' };

/** A method behind an obfuscated name; types are original names, parameters separated by commas. */
export interface MappedSignature {
  readonly name: string;
  readonly result: string;
  readonly parameters: string;
}

/** What else in the stack decides about a frame. */
export interface RetraceContext {
  /** Line of the outline that this frame called. */
  readonly outlineLine?: number | null;
  /** Class of the exception, as printed, when this is the frame that threw it. */
  readonly thrown?: string | null;
}

/** One inlined stack of a method: entries `[from, to)`. */
interface EntryGroup {
  readonly from: number;
  readonly to: number;
}

/** Looks frames up in a mapping index by halving; nothing of the mapping is parsed again. */
export class MappingIndex {
  private readonly strings: StringTable;
  private readonly column: IndexReading<typeof section, MappingSummary>['column'];
  /** Source files that were asked for; inlined helpers come up again and again. */
  private readonly sourceFiles = new Map<number, string | null>();

  readonly summary: MappingSummary;

  private constructor({ strings, column, summary }: IndexReading<typeof section, MappingSummary>) {
    this.strings = strings;
    this.column = column;
    this.summary = summary;
  }

  /** Opens an index that the builder made, or its file; anything else is a problem in words. */
  static open(source: Uint8Array | IndexSections): Result<MappingIndex, IndexProblem> {
    const read = readIndex<typeof section, MappingSummary>(source, 'mapping', section);
    return read.ok ? success(new MappingIndex(read.value)) : read;
  }

  /** The original name of an obfuscated class, or null. */
  className(obfuscated: string): string | null {
    const row = this.findClass(obfuscated);
    return row < 0 ? null : this.strings.get(this.column.classOriginal[row] as number);
  }

  /** The obfuscated name of an original class, or null. */
  obfuscatedName(original: string): string | null {
    const row = this.rowOfOriginal(original);
    return row < 0 ? null : this.strings.get(this.column.classObfuscated[row] as number);
  }

  /** Every original method that an obfuscated name of a class may mean; inlined ones are not among them. */
  methodsNamed(obfuscatedClass: string, obfuscatedMethod: string): MappedSignature[] {
    const row = this.findClass(obfuscatedClass);
    const method = row < 0 ? -1 : this.findMethod(row, obfuscatedMethod);
    if (method < 0) return [];
    const { methodEntries, entryName, entryResult, entryParameters } = this.column;
    const text = (column: Uint32Array, entry: number) => {
      const string = column[entry];
      return string === undefined ? '' : this.strings.get(string);
    };
    return this.groups(methodEntries[method] as number, methodEntries[method + 1] as number, () => true).map(({ to }) => ({
      name: text(entryName, to - 1),
      result: text(entryResult, to - 1),
      parameters: text(entryParameters, to - 1),
    }));
  }

  /** Every original field, with its type, that an obfuscated name of a class may mean; indexes of before fields were kept have none. */
  fieldsNamed(obfuscatedClass: string, obfuscatedField: string): { readonly name: string; readonly type: string }[] {
    const row = this.findClass(obfuscatedClass);
    const { classFields, fieldName, fieldOriginal, fieldType } = this.column;
    if (row < 0 || classFields.length === 0) return [];
    const found: { name: string; type: string }[] = [];
    for (let field = classFields[row] as number; field < (classFields[row + 1] as number); field++)
      if (this.strings.get(fieldName[field] as number) === obfuscatedField)
        found.push({ name: this.strings.get(fieldOriginal[field] as number), type: this.strings.get(fieldType[field] as number) });
    return found;
  }

  /** Restores one frame. `line` is the line the frame printed; null or 0 when it printed none. */
  retrace(obfuscatedClass: string, obfuscatedMethod: string, printedLine: number | null, context: RetraceContext = {}): MappingMatch {
    const row = this.findClass(obfuscatedClass);
    if (row < 0) return { state: 'class-unknown' };
    const ownClass = this.strings.get(this.column.classOriginal[row] as number);
    const method = this.findMethod(row, obfuscatedMethod);
    if (method < 0) return { state: 'method-unknown', class: ownClass, file: this.fileOfRow(row) };

    const begin = this.column.methodEntries[method] as number;
    const end = this.column.methodEntries[method + 1] as number;
    const line = this.callerLine(begin, end, printedLine, context.outlineLine ?? null);
    const restore = (list: readonly EntryGroup[]) =>
      list.map((group) => this.rewritten(group, this.frames(group, row, line), context.thrown));
    if (line) {
      const covering = this.groups(begin, end, (entry) => this.has(entry, entryFlags.hasRange) && this.covers(entry, line));
      // Where ranges nest, the narrower is the lambda or local class written inside the wider method.
      if (covering.length > 1) covering.sort((a, b) => this.span(a.from) - this.span(b.from));
      if (covering.length > 0 && covering.every((group) => this.hasInGroup(group, entryFlags.outline))) return { state: 'outline' };
      if (covering.length > 0) return { state: 'found', lineCovered: true, alternatives: restore(covering) };
    }
    const unbounded = this.groups(begin, end, (entry) => !this.has(entry, entryFlags.hasRange));
    if (unbounded.length > 0 && unbounded.every((group) => this.hasInGroup(group, entryFlags.outline))) return { state: 'outline' };
    if (unbounded.length > 0) return { state: 'found', lineCovered: line !== null && line > 0, alternatives: restore(unbounded) };
    return { state: 'found', lineCovered: false, alternatives: this.outermostMethods(begin, end, row) };
  }

  /** The inlined stacks among entries `[begin, end)` whose first entry is wanted; all entries of one have one range. */
  private groups(begin: number, end: number, wanted: (entry: number) => boolean): EntryGroup[] {
    const groups: EntryGroup[] = [];
    for (let from = begin; from < end; ) {
      let to = from + 1;
      while (to < end && this.has(to, entryFlags.callsPrevious)) to++;
      if (wanted(from)) groups.push({ from, to });
      from = to;
    }
    return groups;
  }

  /** Where the frame called an outline, the line of the outline tells which line of the caller its code came from. */
  private callerLine(begin: number, end: number, line: number | null, outlineLine: number | null): number | null {
    const { callSiteEntry, callSitePositions, positionOutlineLine, positionLine } = this.column;
    if (outlineLine === null || !line || callSiteEntry.length === 0) return line;
    for (const { from, to } of this.groups(begin, end, (entry) => this.has(entry, entryFlags.hasRange) && this.covers(entry, line)))
      for (let site = lastAtOrBefore(callSiteEntry, to - 1); site >= 0 && (callSiteEntry[site] as number) >= from; site--)
        for (let at = callSitePositions[site] as number; at < (callSitePositions[site + 1] as number); at++)
          if (positionOutlineLine[at] === outlineLine) return positionLine[at] as number;
    return line;
  }

  /** Leaves out inlined calls that a rule of the mapping takes away from the frame that threw. */
  private rewritten(group: EntryGroup, frames: MappedFrame[], thrown: string | null | undefined): MappedFrame[] {
    const { rewriteEntry, rewriteThrown, rewriteRemoved } = this.column;
    if (thrown === undefined || thrown === null || rewriteEntry.length === 0) return frames;
    for (let rule = lastAtOrBefore(rewriteEntry, group.to - 1); rule >= 0 && (rewriteEntry[rule] as number) >= group.from; rule--) {
      const wanted = rewriteThrown[rule] as number;
      const removed = rewriteRemoved[rule] as number;
      if ((wanted === noString || this.strings.get(wanted) === thrown) && removed < frames.length) return frames.slice(removed);
    }
    return frames;
  }

  private hasInGroup(group: EntryGroup, flag: number): boolean {
    for (let entry = group.from; entry < group.to; entry++) if (this.has(entry, flag)) return true;
    return false;
  }

  private has(entry: number, flag: number): boolean {
    return ((this.column.entryFlags[entry] as number) & flag) !== 0;
  }

  private covers(entry: number, line: number): boolean {
    return line >= (this.column.entryStart[entry] as number) && line <= (this.column.entryEnd[entry] as number);
  }

  private span(entry: number): number {
    return (this.column.entryEnd[entry] as number) - (this.column.entryStart[entry] as number);
  }

  private frames(group: EntryGroup, row: number, line: number | null): MappedFrame[] {
    const frames: MappedFrame[] = [];
    for (let entry = group.from; entry < group.to; entry++)
      if (!this.has(entry, entryFlags.synthesized)) frames.push(this.frame(entry, row, this.originalLine(entry, line)));
    // A method that is nothing but compiler-made code is still better named than lost.
    return frames.length > 0 ? frames : [this.frame(group.to - 1, row, this.originalLine(group.to - 1, line))];
  }

  /** The original method of an entry; `row` is the class whose entry it is. */
  private frame(entry: number, row: number, line: number | null): MappedFrame {
    const declared = this.column.entryClass[entry] as number;
    const isOwn = declared === noString;
    return {
      class: this.strings.get(isOwn ? (this.column.classOriginal[row] as number) : declared),
      method: this.strings.get(this.column.entryName[entry] as number),
      parameters: this.strings.get(this.column.entryParameters[entry] as number),
      line,
      file: isOwn ? this.fileOfRow(row) : this.sourceFile(declared),
    };
  }

  /**
   * ProGuard manual, "ReTrace": `start:end` behind a method shifts the line by their distance, a single number is
   * the line of an inlined call, none leaves the line as it is.
   */
  private originalLine(entry: number, line: number | null): number | null {
    const start = this.column.entryOriginalStart[entry] as number;
    const end = this.column.entryOriginalEnd[entry] as number;
    if (!this.has(entry, entryFlags.hasOriginalStart)) return line || null;
    if (!this.has(entry, entryFlags.hasOriginalEnd) || start === end) return start || null;
    if (!line || !this.has(entry, entryFlags.hasRange)) return null;
    const shifted = start + line - (this.column.entryStart[entry] as number);
    return shifted <= end ? shifted : null;
  }

  /** Without a usable line only the outermost method of each group is sure to have been on the stack. */
  private outermostMethods(begin: number, end: number, row: number): MappedFrame[][] {
    const distinct = new Map<string, MappedFrame>();
    for (const { to } of this.groups(begin, end, () => true)) {
      const frame = this.frame(to - 1, row, null);
      const key = `${frame.class}.${frame.method}(${frame.parameters})`;
      if (!distinct.has(key)) distinct.set(key, frame);
    }
    return [...distinct.values()].map((frame) => [frame]);
  }

  /** The source file that the mapping names for an original class, by the number of its name. */
  private sourceFile(originalClass: number): string | null {
    const known = this.sourceFiles.get(originalClass);
    if (known !== undefined) return known;
    const row = this.rowOfOriginal(this.strings.get(originalClass));
    const file = row < 0 ? null : this.fileOfRow(row);
    this.sourceFiles.set(originalClass, file);
    return file;
  }

  private rowOfOriginal(original: string): number {
    const { classByOriginal, classOriginal } = this.column;
    let low = 0;
    let high = classByOriginal.length;
    while (low < high) {
      const middle = (low + high) >>> 1;
      if (this.strings.get(classOriginal[classByOriginal[middle] as number] as number) < original) low = middle + 1;
      else high = middle;
    }
    const row = classByOriginal[low];
    return row !== undefined && this.strings.get(classOriginal[row] as number) === original ? row : -1;
  }

  private fileOfRow(row: number): string | null {
    const file = this.column.classFile[row] as number;
    return file === noString ? null : this.strings.get(file);
  }

  private findClass(obfuscated: string): number {
    return this.find(this.column.classObfuscated, obfuscated, 0, this.column.classObfuscated.length);
  }

  private findMethod(row: number, obfuscated: string): number {
    const { methodName, classMethods } = this.column;
    return this.find(methodName, obfuscated, classMethods[row] as number, classMethods[row + 1] as number);
  }

  /** Halves the sorted `[low, high)` part of a column of names; -1 when `wanted` is not there. */
  private find(names: Uint32Array, wanted: string, low: number, high: number): number {
    while (low < high) {
      const middle = (low + high) >>> 1;
      const name = this.strings.get(names[middle] as number);
      if (name === wanted) return middle;
      if (name < wanted) low = middle + 1;
      else high = middle;
    }
    return -1;
  }
}
