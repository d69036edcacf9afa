import { GrowableColumn } from '../../bytes/growable-column.ts';
import { StringTableBuilder } from '../../bytes/string-table.ts';
import { failure, type Result, success } from '../../result.ts';
import { describeFile } from '../identify.ts';
import type { BuiltIndex, Section } from '../index-file.ts';
import { entryFlags, type MappingSummary, mappingSections, noString } from './index-layout.ts';
import { type MappedField, type MappedMethod, parseMappingLine } from './parse.ts';
import { type OutlinePosition, outlinePositions, type RewriteRule, rewriteRule } from './records.ts';

export type MappingProblem = 'not-a-mapping' | 'damaged-mapping' | 'too-large';

const maximumLineCharacters = 1 << 20;
const headBytes = 4096;
/** A text whose first lines hold no class line is no mapping. */
const linesWithoutClass = 2_000;
const keptWarnings = 20;
/** Of a real mapping every line can be read; a text with more than this share of others is something else. */
const unreadableShare = 0.05;
const maximumEntries = 60_000_000;

/** Reads a mapping chunk by chunk, in memory bounded by the names it holds, and makes its index. */
export class MappingIndexBuilder {
  private readonly decoder = new TextDecoder('utf-8');
  private readonly strings = new StringTableBuilder();
  private head = new Uint8Array(0);
  private rest = '';
  private lines = 0;
  private unreadable = 0;
  private readonly warnings: { line: number; text: string }[] = [];
  private mapId: string | null = null;
  private compiler: string | null = null;

  /** Class columns, one row for each class line; entries of class i begin at `classEntries[i]`. */
  private readonly classObfuscated = new GrowableColumn();
  private readonly classOriginal = new GrowableColumn();
  private readonly classFile = new GrowableColumn();
  private readonly classEntries = new GrowableColumn();
  /** Fields of class i begin at `classFields[i]`. */
  private readonly classFields = new GrowableColumn();
  private readonly fieldName = new GrowableColumn();
  private readonly fieldOriginal = new GrowableColumn();
  private readonly fieldType = new GrowableColumn();

  private readonly entryMethod = new GrowableColumn();
  private readonly entryStart = new GrowableColumn();
  private readonly entryEnd = new GrowableColumn();
  private readonly entryClass = new GrowableColumn();
  private readonly entryName = new GrowableColumn();
  private readonly entryParameters = new GrowableColumn();
  private readonly entryOriginalStart = new GrowableColumn();
  private readonly entryOriginalEnd = new GrowableColumn();
  private readonly entryFlags = new GrowableColumn();
  private readonly entryResult = new GrowableColumn();
  private readonly callSites: { entry: number; positions: readonly OutlinePosition[] }[] = [];
  private readonly rewrites: { entry: number; rule: RewriteRule }[] = [];

  /** Takes the next bytes of the file. A failure is final: the rest of the file need not be read. */
  add(chunk: Uint8Array): Result<null, MappingProblem> {
    if (this.head.length < headBytes) {
      const head = new Uint8Array(Math.min(headBytes, this.head.length + chunk.length));
      head.set(this.head);
      head.set(chunk.subarray(0, head.length - this.head.length), this.head.length);
      this.head = head;
      if (head.includes(0)) return this.notAMapping();
    }
    const text = this.rest + this.decoder.decode(chunk, { stream: true });
    let begin = 0;
    for (let end = text.indexOf('\n'); end >= 0; end = text.indexOf('\n', begin)) {
      const taken = this.takeLine(text.slice(begin, end));
      if (!taken.ok) return taken;
      begin = end + 1;
    }
    this.rest = text.slice(begin);
    if (this.rest.length > maximumLineCharacters)
      return failure(
        'not-a-mapping',
        `line ${this.lines + 1} is longer than ${maximumLineCharacters} characters; this looks like ${describeFile(this.head)}`,
      );
    return success(null);
  }

  private notAMapping(): Result<null, MappingProblem> {
    return failure('not-a-mapping', `no class line ("original.Name -> a.b:") was found; this looks like ${describeFile(this.head)}`);
  }

  private takeLine(line: string): Result<null, MappingProblem> {
    this.lines++;
    const parsed = parseMappingLine(line);
    switch (parsed.type) {
      case 'class':
        this.addClass(parsed.original, parsed.obfuscated);
        break;
      case 'method':
        if (this.classObfuscated.length === 0) return this.takeUnreadable(line);
        if (this.entryMethod.length >= maximumEntries)
          return failure('too-large', `the mapping holds more than ${maximumEntries} methods`, this.lines);
        this.addMethod(parsed.method);
        break;
      case 'field':
        if (this.classObfuscated.length > 0 && this.fieldName.length < maximumEntries) this.addField(parsed.field);
        break;
      case 'comment':
        this.takeComment(parsed.text);
        break;
      case 'unknown':
        return this.takeUnreadable(line);
    }
    return success(null);
  }

  private takeUnreadable(line: string): Result<null, MappingProblem> {
    this.unreadable++;
    if (this.warnings.length < keptWarnings) this.warnings.push({ line: this.lines, text: line.slice(0, 200) });
    if (this.classObfuscated.length === 0 && this.unreadable >= linesWithoutClass) return this.notAMapping();
    if (this.unreadable >= linesWithoutClass && this.unreadable > this.lines * unreadableShare) return this.damaged();
    return success(null);
  }

  private damaged(): Result<never, MappingProblem> {
    const first = this.warnings[0];
    return failure(
      'damaged-mapping',
      `${this.unreadable} of ${this.lines} lines are not mapping lines, the first is line ${first?.line}: ${JSON.stringify(first?.text.slice(0, 80))}`,
      first?.line,
    );
  }

  private addClass(original: string, obfuscated: string): void {
    this.classOriginal.push(this.strings.add(original));
    this.classObfuscated.push(this.strings.add(obfuscated));
    this.classFile.push(noString);
    this.classEntries.push(this.entryMethod.length);
    this.classFields.push(this.fieldName.length);
  }

  private addField({ obfuscated, originalName, fieldType }: MappedField): void {
    this.fieldName.push(this.strings.add(obfuscated));
    this.fieldOriginal.push(this.strings.add(originalName));
    this.fieldType.push(this.strings.add(fieldType));
  }

  private addMethod(method: MappedMethod): void {
    const { range, originalStart, originalEnd } = method;
    const name = this.strings.add(method.obfuscated);
    let flags = 0;
    // "0:0" and "0:65535" cover every line, like no range at all.
    const bounded = range !== null && !(range.start === 0 && (range.end === 0 || range.end >= 65_535));
    if (bounded) flags |= entryFlags.hasRange;
    if (originalStart !== null) flags |= entryFlags.hasOriginalStart;
    if (originalEnd !== null) flags |= entryFlags.hasOriginalEnd;

    const previous = this.entryMethod.length - 1;
    const inSameClass = previous >= this.classEntries.at(this.classEntries.length - 1);
    // Two overloads may cover the same lines; a call that was inlined is told by the original line of the call.
    if (
      range !== null &&
      inSameClass &&
      originalStart !== null &&
      this.entryMethod.at(previous) === name &&
      this.entryStart.at(previous) === range.start &&
      this.entryEnd.at(previous) === range.end &&
      this.entryFlags.at(previous) & entryFlags.hasOriginalStart
    )
      flags |= entryFlags.callsPrevious;

    this.entryMethod.push(name);
    this.entryStart.push(range?.start ?? 0);
    this.entryEnd.push(range?.end ?? 0);
    this.entryClass.push(method.originalClass === null ? noString : this.strings.add(method.originalClass));
    this.entryName.push(this.strings.add(method.originalName));
    this.entryParameters.push(this.strings.add(method.parameters));
    this.entryOriginalStart.push(originalStart ?? 0);
    this.entryOriginalEnd.push(originalEnd ?? 0);
    this.entryFlags.push(flags);
    this.entryResult.push(this.strings.add(method.resultType));
  }

  /** `# key: value` lines of the head, and the JSON records that R8 and ProGuard attach to the line before. */
  private takeComment(text: string): void {
    if (text.startsWith('{')) {
      this.takeRecord(text);
      return;
    }
    const header = /^(pg_map_id|pg_map_hash|compiler): *(?:SHA-256 )?(\S.*)$/.exec(text);
    // The id is the hash or its beginning; frames may print either.
    if (header?.[1]?.startsWith('pg_map')) {
      const id = (header[2] as string).slice(0, 200);
      if (this.mapId === null || id.startsWith(this.mapId)) this.mapId = id;
    } else if (header?.[1] === 'compiler') this.compiler = (header[2] as string).slice(0, 100);
  }

  private takeRecord(text: string): void {
    let record: unknown;
    try {
      record = JSON.parse(text);
    } catch {
      return; // A comment that only begins like a record says nothing about the classes.
    }
    if (typeof record !== 'object' || record === null || !('id' in record)) return;
    const lastClass = this.classObfuscated.length - 1;
    if (record.id === 'sourceFile' && 'fileName' in record && typeof record.fileName === 'string' && lastClass >= 0)
      this.classFile.set(lastClass, this.strings.add(record.fileName.slice(0, 512)));
    else this.takeMethodRecord(record as { id: unknown });
  }

  /** Records about the method of the line before: R8's `doc/retrace.md`, "Additional information appended as comments". */
  private takeMethodRecord(record: { readonly id: unknown }): void {
    const lastClass = this.classObfuscated.length - 1;
    const last = this.entryMethod.length - 1;
    if (lastClass < 0 || last < this.classEntries.at(lastClass)) return;
    switch (record.id) {
      case 'com.android.tools.r8.synthesized':
        this.entryFlags.set(last, this.entryFlags.at(last) | entryFlags.synthesized);
        break;
      case 'com.android.tools.r8.outline':
        this.entryFlags.set(last, this.entryFlags.at(last) | entryFlags.outline);
        break;
      case 'com.android.tools.r8.outlineCallsite': {
        const positions = outlinePositions(record);
        if (positions.length > 0) this.callSites.push({ entry: last, positions });
        break;
      }
      case 'com.android.tools.r8.rewriteFrame': {
        const rule = rewriteRule(record);
        if (rule) this.rewrites.push({ entry: last, rule });
        break;
      }
    }
  }

  /** The finished index, after the last chunk. */
  finish(): Result<BuiltIndex<MappingSummary>, MappingProblem> {
    const last = this.rest + this.decoder.decode();
    this.rest = '';
    if (last !== '') {
      const taken = this.takeLine(last);
      if (!taken.ok) return taken;
    }
    if (this.classObfuscated.length === 0) return this.notAMapping() as Result<never, MappingProblem>;
    if (this.unreadable > 0 && this.unreadable > this.lines * unreadableShare) return this.damaged();

    const sections = this.sortedSections();
    const summary: MappingSummary = {
      mapId: this.mapId,
      compiler: this.compiler,
      classes: (sections.get(mappingSections.classObfuscated) as Uint32Array).length,
      methods: (sections.get(mappingSections.methodName) as Uint32Array).length,
      lines: this.lines,
      unreadableLines: this.unreadable,
      warnings: this.warnings,
    };
    sections.set(mappingSections.summary, new TextEncoder().encode(JSON.stringify(summary)));
    return success({ kind: 'mapping', sections, summary });
  }

  /** Columns sorted for halving: classes by obfuscated name, methods by name within their class. */
  private sortedSections(): Map<number, Section> {
    const strings = this.strings.strings();
    const byText = (a: number, b: number): number => {
      const left = strings[a] as string;
      const right = strings[b] as string;
      return left < right ? -1 : left > right ? 1 : 0;
    };
    const rows = Array.from({ length: this.classObfuscated.length }, (_, row) => row);
    // Rows of one obfuscated name stay in file order and become one class.
    rows.sort((a, b) => byText(this.classObfuscated.at(a), this.classObfuscated.at(b)) || a - b);

    const { classes, methods, fields: fieldOrder, entries: order } = this.gatherClasses(rows, byText);
    const byOriginal = new Uint32Array(classes.original.length).map((_, row) => row);
    byOriginal.sort((a, b) => byText(classes.original.at(a), classes.original.at(b)));
    const places = order.toColumn();
    const fields = fieldOrder.toColumn();
    const records = this.recordSections(places);
    const { offsets, bytes } = this.strings.encode();
    return new Map<number, Section>([
      [mappingSections.stringOffsets, offsets],
      [mappingSections.stringBytes, bytes],
      [mappingSections.classObfuscated, classes.obfuscated.toColumn()],
      [mappingSections.classOriginal, classes.original.toColumn()],
      [mappingSections.classFile, classes.file.toColumn()],
      [mappingSections.classMethods, classes.methods.toColumn()],
      [mappingSections.classByOriginal, byOriginal],
      [mappingSections.classFields, classes.fields.toColumn()],
      [mappingSections.fieldName, this.fieldName.gather(fields)],
      [mappingSections.fieldOriginal, this.fieldOriginal.gather(fields)],
      [mappingSections.fieldType, this.fieldType.gather(fields)],
      [mappingSections.methodName, methods.name.toColumn()],
      [mappingSections.methodEntries, methods.entries.toColumn()],
      [mappingSections.entryStart, this.entryStart.gather(places)],
      [mappingSections.entryEnd, this.entryEnd.gather(places)],
      [mappingSections.entryClass, this.entryClass.gather(places)],
      [mappingSections.entryName, this.entryName.gather(places)],
      [mappingSections.entryParameters, this.entryParameters.gather(places)],
      [mappingSections.entryOriginalStart, this.entryOriginalStart.gather(places)],
      [mappingSections.entryOriginalEnd, this.entryOriginalEnd.gather(places)],
      [mappingSections.entryFlags, this.entryFlags.gather(places)],
      [mappingSections.entryResult, this.entryResult.gather(places)],
      ...records,
    ]);
  }

  /** Classes in the order of `rows`, each with the methods and fields of all its rows; of fields and entries the rows in that order. */
  private gatherClasses(rows: readonly number[], byText: (a: number, b: number) => number) {
    const classes = {
      obfuscated: new GrowableColumn(),
      original: new GrowableColumn(),
      file: new GrowableColumn(),
      methods: new GrowableColumn(),
      fields: new GrowableColumn(),
    };
    const fields = new GrowableColumn();
    const methods = { name: new GrowableColumn(), entries: new GrowableColumn() };
    const entries = new GrowableColumn();
    for (let at = 0; at < rows.length; ) {
      const first = rows[at] as number;
      const name = this.classObfuscated.at(first);
      const entriesByMethod = new Map<number, number[]>();
      classes.fields.push(fields.length);
      let file: number = noString;
      for (; at < rows.length && this.classObfuscated.at(rows[at] as number) === name; at++) {
        const row = rows[at] as number;
        if (file === noString) file = this.classFile.at(row);
        const end = row + 1 < this.classEntries.length ? this.classEntries.at(row + 1) : this.entryMethod.length;
        const fieldsEnd = row + 1 < this.classFields.length ? this.classFields.at(row + 1) : this.fieldName.length;
        for (let field = this.classFields.at(row); field < fieldsEnd; field++) fields.push(field);
        for (let entry = this.classEntries.at(row); entry < end; entry++) {
          const method = this.entryMethod.at(entry);
          const known = entriesByMethod.get(method);
          if (known) known.push(entry);
          else entriesByMethod.set(method, [entry]);
        }
      }
      classes.obfuscated.push(name);
      classes.original.push(this.classOriginal.at(first));
      classes.file.push(file);
      classes.methods.push(methods.name.length);
      for (const method of [...entriesByMethod.keys()].sort(byText)) {
        methods.name.push(method);
        methods.entries.push(entries.length);
        for (const entry of entriesByMethod.get(method) as number[]) entries.push(entry);
      }
    }
    classes.methods.push(methods.name.length);
    classes.fields.push(fields.length);
    methods.entries.push(entries.length);
    return { classes, methods, fields, entries };
  }

  /** What outlines and rewritten frames need, ascending by the place of their entry. */
  private recordSections(places: Uint32Array): [number, Section][] {
    if (this.callSites.length === 0 && this.rewrites.length === 0) return [];
    const placeOf = new Uint32Array(this.entryMethod.length);
    places.forEach((entry, place) => {
      placeOf[entry] = place;
    });
    const byPlace = <Kind extends { entry: number }>(list: readonly Kind[]) =>
      list.map((one) => ({ ...one, place: placeOf[one.entry] as number })).sort((a, b) => a.place - b.place);
    const sites = byPlace(this.callSites);
    const rewrites = byPlace(this.rewrites);
    const positions = sites.flatMap((site) => site.positions);
    const starts = [0];
    for (const site of sites) starts.push((starts.at(-1) as number) + site.positions.length);
    return [
      [mappingSections.callSiteEntry, Uint32Array.from(sites, (site) => site.place)],
      [mappingSections.callSitePositions, Uint32Array.from(starts)],
      [mappingSections.positionOutlineLine, Uint32Array.from(positions, (one) => one.outlineLine)],
      [mappingSections.positionLine, Uint32Array.from(positions, (one) => one.line)],
      [mappingSections.rewriteEntry, Uint32Array.from(rewrites, (one) => one.place)],
      [
        mappingSections.rewriteThrown,
        Uint32Array.from(rewrites, ({ rule }) => (rule.thrown === null ? noString : this.strings.add(rule.thrown))),
      ],
      [mappingSections.rewriteRemoved, Uint32Array.from(rewrites, ({ rule }) => rule.removedInnerFrames)],
    ];
  }
}

/** Makes the index of a mapping that is in memory already. */
export function indexMapping(file: Uint8Array): Result<BuiltIndex<MappingSummary>, MappingProblem> {
  const builder = new MappingIndexBuilder();
  const chunkBytes = 1 << 20;
  for (let at = 0; at < file.length; at += chunkBytes) {
    const added = builder.add(file.subarray(at, at + chunkBytes));
    if (!added.ok) return added;
  }
  return builder.finish();
}
