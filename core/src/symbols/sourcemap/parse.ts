import { failure, type Result, success } from '../../result.ts';

/** One source map of ECMA-426, checked as far as the decoder relies on it; names keep the spelling of the standard. */
export interface SourceMap {
  readonly file: string | null;
  readonly debugId: string | null;
  readonly sources: readonly (string | null)[];
  readonly sourcesContent: readonly (string | null)[];
  readonly names: readonly string[];
  readonly mappings: string;
  readonly ignoreList: ReadonlySet<number>;
}

/** A map with the place in the script where it begins. Lines and columns from 0. */
export interface PlacedMap {
  readonly line: number;
  readonly column: number;
  readonly map: SourceMap;
}

export interface ParsedMap {
  readonly file: string | null;
  readonly debugId: string | null;
  readonly parts: readonly PlacedMap[];
  readonly warnings: readonly string[];
}

export type SourceMapProblem = 'not-a-source-map' | 'damaged-source-map' | 'too-large';

/** V8 holds no longer text. */
export const maximumBytes = 500_000_000;
const maximumSections = 100_000;
const maximumNesting = 8;

/** Reads the JSON of a source map: ECMA-426 section 9, index maps included. */
export function parseSourceMap(bytes: Uint8Array): Result<ParsedMap, SourceMapProblem> {
  if (bytes.length > maximumBytes) return failure('too-large', `the source map has ${bytes.length} bytes; ${maximumBytes} can be read`);
  // Older tools put a line before the JSON that keeps a browser from running it as a script (section 9).
  const text = new TextDecoder().decode(bytes).replace(/^\)\]\}'[^\n]*\n/, '');
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (error) {
    return failure('not-a-source-map', `the file is not JSON: ${(error as Error).message.slice(0, 200)}`);
  }
  if (!isRecord(json)) return failure('not-a-source-map', 'the file is JSON, but no object');
  if (typeof json.mappings !== 'string' && !Array.isArray(json.sections))
    return failure('not-a-source-map', 'the JSON has neither "mappings" nor "sections", so it is no source map');
  if (json.version !== 3)
    return failure(
      'damaged-source-map',
      `"version" is ${typeof json.version === 'object' ? 'no number' : JSON.stringify(json.version)} and not 3`,
    );
  const warnings: string[] = [];
  const parts: PlacedMap[] = [];
  collect(json, { line: 0, column: 0, depth: 0 }, parts, warnings);
  return success({ file: textOrNull(json.file), debugId: debugIdOf(json), parts, warnings });
}

function collect(
  json: Readonly<Record<string, unknown>>,
  place: { line: number; column: number; depth: number },
  parts: PlacedMap[],
  warnings: string[],
): void {
  if (typeof json.mappings === 'string') {
    parts.push({ line: place.line, column: place.column, map: readMap(json, warnings) });
    return;
  }
  if (!Array.isArray(json.sections) || place.depth >= maximumNesting) return;
  for (const section of json.sections.slice(0, maximumSections) as unknown[]) {
    const offset = isRecord(section) ? section.offset : null;
    if (!isRecord(section) || !isRecord(offset) || !isCount(offset.line) || !isCount(offset.column)) {
      warnings.push('a section without a place in the script was left out');
      continue;
    }
    if (!isRecord(section.map)) {
      warnings.push(`the section at line ${offset.line + 1} refers to a map elsewhere and was left out`);
      continue;
    }
    const column = offset.line === 0 ? place.column + offset.column : offset.column;
    collect(section.map, { line: place.line + offset.line, column, depth: place.depth + 1 }, parts, warnings);
  }
}

function readMap(json: Readonly<Record<string, unknown>>, warnings: string[]): SourceMap {
  const root = typeof json.sourceRoot === 'string' ? json.sourceRoot : '';
  const list = (value: unknown): unknown[] => (Array.isArray(value) ? value : []);
  const sources = list(json.sources).map((source) => (typeof source === 'string' ? joinRoot(root, source) : null));
  const ignored = list(json.ignoreList ?? json.x_google_ignoreList).filter((one): one is number => isCount(one));
  if (sources.length === 0 && json.mappings !== '') warnings.push('a map lists no sources');
  return {
    file: textOrNull(json.file),
    debugId: debugIdOf(json),
    sources,
    sourcesContent: list(json.sourcesContent).map((content) => (typeof content === 'string' ? content : null)),
    names: list(json.names).map((name) => (typeof name === 'object' ? '' : String(name))),
    mappings: json.mappings as string,
    ignoreList: new Set(ignored),
  };
}

/** Section 9.1: the root stands before every source; a source with a scheme or an absolute path keeps its own. */
function joinRoot(root: string, source: string): string {
  if (root === '' || /^[a-z][\w+.-]*:|^\//i.test(source)) return source;
  return root.endsWith('/') ? root + source : `${root}/${source}`;
}

/** The debug id of the map; some bundlers write it with an underscore. */
function debugIdOf(json: Readonly<Record<string, unknown>>): string | null {
  const id = textOrNull(json.debugId) ?? textOrNull(json.debug_id);
  const digits = id?.replaceAll('-', '').toLowerCase();
  return digits && /^[0-9a-f]{32}$/.test(digits) ? digits : null;
}

const textOrNull = (value: unknown): string | null => (typeof value === 'string' && value !== '' ? value : null);
const isRecord = (value: unknown): value is Readonly<Record<string, unknown>> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);
const isCount = (value: unknown): value is number => typeof value === 'number' && Number.isInteger(value) && value >= 0;
