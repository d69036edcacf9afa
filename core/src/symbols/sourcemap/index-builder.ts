import { ByteNames } from '../../bytes/byte-names.ts';
import { GrowableColumn } from '../../bytes/growable-column.ts';
import { type Result, success } from '../../result.ts';
import { Warnings } from '../code/warnings.ts';
import type { BuiltIndex, Section } from '../index-file.ts';
import { findFunctionScopes, topLevel } from './function-scopes.ts';
import { none, type SourceMapSummary, sourceMapSections as section } from './index-layout.ts';
import { Segments } from './mappings.ts';
import { type ParsedMap, parseSourceMap, type SourceMapProblem } from './parse.ts';

export interface SourceMapOptions {
  /** Finds the functions in the texts of the sources as well; the default. */
  readonly withFunctions?: boolean;
  readonly progress?: (done: number, total: number) => void;
}

/** Makes the index of a source map (ECMA-426): positions, names, texts of the sources, and the functions in them. */
export function indexSourceMap(bytes: Uint8Array, options: SourceMapOptions = {}): Result<BuiltIndex<SourceMapSummary>, SourceMapProblem> {
  const parsed = parseSourceMap(bytes);
  if (!parsed.ok) return parsed;
  return success(buildIndex(parsed.value, options));
}

interface Source {
  readonly name: string | null;
  readonly content: string | null;
  readonly isIgnored: boolean;
}

function buildIndex(
  { file, debugId, parts, warnings: found }: ParsedMap,
  { withFunctions = true, progress }: SourceMapOptions,
): BuiltIndex<SourceMapSummary> {
  const names = new ByteNames();
  const warnings = new Warnings();
  for (const warning of found) warnings.add(warning);
  const { segments, sources } = readParts(parts, names);
  if (segments.invalidSegments > 0) warnings.add(`${segments.invalidSegments} mappings are not valid and were left out`);
  const { lineFirst, gather } = segments.finish();

  const scopes = new Scopes();
  sources.forEach((source, index) => {
    progress?.(index, sources.length);
    scopes.add(withFunctions ? source : { ...source, content: null }, names, warnings);
  });
  scopes.end();

  const summary: SourceMapSummary = {
    file,
    debugId: debugId ?? parts[0]?.map.debugId ?? null,
    sources: sources.length,
    sourcesWithText: sources.filter(({ content }) => content !== null).length,
    lines: lineFirst.length - 1,
    segments: segments.column.length,
    functions: scopes.functions,
    warnings: warnings.list,
    warningCount: warnings.count,
  };
  const text = (value: string | null): number => (value === null ? none : names.addText(value));
  const sourceNames = Uint32Array.from(sources, ({ name }) => text(name));
  const contents = encodeContents(sources);
  const strings = names.encode();
  const sections = new Map<number, Section>([
    [section.summary, new TextEncoder().encode(JSON.stringify(summary))],
    [section.stringOffsets, strings.offsets],
    [section.stringBytes, strings.bytes],
    [section.lineFirst, lineFirst],
    [section.segmentColumn, gather(segments.column)],
    [section.segmentSource, gather(segments.source)],
    [section.segmentLine, gather(segments.line)],
    [section.segmentOriginalColumn, gather(segments.originalColumn)],
    [section.segmentName, gather(segments.name)],
    [section.sourceName, sourceNames],
    [section.contentOffsets, contents.offsets],
    [section.contentBytes, contents.bytes],
    [section.sourceIgnored, Uint32Array.from(sources, ({ isIgnored }) => Number(isIgnored))],
    [section.sourceScopes, scopes.first.toColumn()],
    [section.scopeLine, scopes.line.toColumn()],
    [section.scopeColumn, scopes.column.toColumn()],
    [section.scopeName, scopes.name.toColumn()],
  ]);
  return { kind: 'sourcemap', sections, summary };
}

/** The mappings of all parts one behind the other, with their sources. */
function readParts(parts: ParsedMap['parts'], names: ByteNames): { segments: Segments; sources: readonly Source[] } {
  const segments = new Segments();
  const sources: Source[] = [];
  for (const { line, column, map } of parts) {
    const first = sources.length;
    map.sources.forEach((name, index) => {
      sources.push({ name, content: map.sourcesContent[index] ?? null, isIgnored: map.ignoreList.has(index) });
    });
    const nameIds = Uint32Array.from(map.names, (name) => names.addText(name));
    segments.add(map.mappings, { line, column }, { firstSource: first, sources: map.sources.length, nameIds });
  }
  return { segments, sources };
}

/** The functions in the texts of the sources, by source, in parallel columns. */
class Scopes {
  /** Where the functions of each source begin. */
  readonly first = new GrowableColumn();
  readonly line = new GrowableColumn();
  readonly column = new GrowableColumn();
  readonly name = new GrowableColumn();
  functions = 0;

  /** Adds the functions of the next source; one without text has none. */
  add({ name, content }: Source, names: ByteNames, warnings: Warnings): void {
    this.first.push(this.line.length);
    if (content === null) return;
    const starts = findFunctionScopes(content, name ?? '');
    if (!starts) {
      warnings.add(`${name ?? 'a source without a name'} could not be parsed; its functions have no names`);
      return;
    }
    for (const start of starts) {
      if (start.name !== topLevel) this.functions++;
      this.line.push(start.line);
      this.column.push(start.column);
      this.name.push(names.addText(start.name));
    }
  }

  end(): void {
    this.first.push(this.line.length);
  }
}

/** The texts of all sources in UTF-8, one behind the other; a source without text takes no bytes. */
function encodeContents(sources: readonly Source[]): { offsets: Uint32Array; bytes: Uint8Array } {
  const encoder = new TextEncoder();
  const texts = sources.map(({ content }) => encoder.encode(content ?? ''));
  const offsets = new Uint32Array(texts.length + 1);
  texts.forEach((bytes, index) => {
    offsets[index + 1] = (offsets[index] as number) + bytes.length;
  });
  const bytes = new Uint8Array(offsets.at(-1) as number);
  texts.forEach((text, index) => {
    bytes.set(text, offsets[index]);
  });
  return { offsets, bytes };
}
