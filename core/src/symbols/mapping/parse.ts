/**
 * Reads the lines of an obfuscation mapping as ProGuard and R8 write them:
 *
 * ```
 * com.larkfield.guide.map.NightMap -> b:
 *     com.larkfield.guide.map.TileCache cache -> a
 *     1011:1012:void com.larkfield.guide.map.TileCache.keep(int,java.lang.String):11:12 -> <init>
 *     1011:1012:void <init>():10 -> <init>
 * # {"id":"sourceFile","fileName":"NightMap.kt"}
 * ```
 *
 * Source: the ProGuard manual, "ReTrace", section "Mapping file", and R8's `doc/retrace.md` of the same grammar.
 */
export type MappingLine =
  | { readonly type: 'class'; readonly original: string; readonly obfuscated: string }
  | { readonly type: 'method'; readonly method: MappedMethod }
  | { readonly type: 'field'; readonly field: MappedField }
  | { readonly type: 'comment'; readonly text: string }
  | { readonly type: 'blank' }
  | { readonly type: 'unknown' };

export interface MappedField {
  readonly obfuscated: string;
  readonly originalName: string;
  /** Type of the field, by its original name. */
  readonly fieldType: string;
}

export interface MappedMethod {
  readonly obfuscated: string;
  /** Lines of the obfuscated method that this entry covers, `[start, end]`; null when the entry covers all. */
  readonly range: { readonly start: number; readonly end: number } | null;
  /** The class that declares the original method when it is another one: inlined or moved from there. */
  readonly originalClass: string | null;
  readonly originalName: string;
  /** Type of the result, by its original name. */
  readonly resultType: string;
  /** Parameter types separated by commas. */
  readonly parameters: string;
  /** Original lines: `start` alone is the line of a call that was inlined. */
  readonly originalStart: number | null;
  readonly originalEnd: number | null;
}

const maximumLine = 0x7fff_ffff;

/** Reads one line, without its line end. Never throws; what it cannot read is `unknown`. */
export function parseMappingLine(line: string): MappingLine {
  let begin = 0;
  while (begin < line.length && line.charCodeAt(begin) <= 32) begin++;
  if (begin === line.length) return { type: 'blank' };
  if (line.charCodeAt(begin) === 35 /* # */) return { type: 'comment', text: line.slice(begin + 1).trim() };
  const arrow = line.lastIndexOf(' -> ');
  if (arrow <= begin) return { type: 'unknown' };
  const target = line.slice(arrow + 4).trimEnd();
  const source = line.slice(begin, arrow);
  if (target === '') return { type: 'unknown' };
  if (begin === 0) {
    if (!target.endsWith(':') || target.length < 2 || source.includes(' ')) return { type: 'unknown' };
    return { type: 'class', original: source, obfuscated: target.slice(0, -1) };
  }
  return parseMember(source, target);
}

function parseMember(source: string, obfuscated: string): MappingLine {
  let at = 0;
  let range: MappedMethod['range'] = null;
  if (isDigit(source, 0)) {
    const first = readNumber(source, 0);
    if (!first || source[first.end] !== ':') return { type: 'unknown' };
    const second = readNumber(source, first.end + 1);
    if (!second || source[second.end] !== ':') return { type: 'unknown' };
    range = { start: first.value, end: second.value };
    at = second.end + 1;
  }
  const space = source.indexOf(' ', at);
  if (space < 0 || space === source.length - 1) return { type: 'unknown' };
  const open = source.indexOf('(', space);
  if (open < 0) {
    if (range || source.includes(' ', space + 1)) return { type: 'unknown' };
    // A field that another class declares is written with that class.
    const originalName = source.slice(Math.max(space, source.lastIndexOf('.')) + 1);
    return { type: 'field', field: { obfuscated, originalName, fieldType: source.slice(at, space) } };
  }
  const close = source.indexOf(')', open);
  if (close < 0 || open === space + 1) return { type: 'unknown' };

  let originalStart: number | null = null;
  let originalEnd: number | null = null;
  if (close + 1 < source.length) {
    if (source[close + 1] !== ':') return { type: 'unknown' };
    const first = readNumber(source, close + 2);
    if (!first) return { type: 'unknown' };
    originalStart = first.value;
    if (first.end < source.length) {
      const second = source[first.end] === ':' ? readNumber(source, first.end + 1) : null;
      if (!second || second.end !== source.length) return { type: 'unknown' };
      originalEnd = second.value;
    }
  }
  const qualified = source.slice(space + 1, open);
  const dot = qualified.lastIndexOf('.');
  return {
    type: 'method',
    method: {
      obfuscated,
      range,
      originalClass: dot < 0 ? null : qualified.slice(0, dot),
      originalName: qualified.slice(dot + 1),
      resultType: source.slice(at, space),
      parameters: source.slice(open + 1, close),
      originalStart,
      originalEnd,
    },
  };
}

const isDigit = (text: string, at: number): boolean => {
  const code = text.charCodeAt(at);
  return code >= 48 && code <= 57;
};

function readNumber(text: string, from: number): { value: number; end: number } | null {
  let end = from;
  let value = 0;
  while (isDigit(text, end)) {
    value = value * 10 + text.charCodeAt(end) - 48;
    if (value > maximumLine) return null;
    end++;
  }
  return end === from ? null : { value, end };
}
