import { GrowableColumn } from '../../bytes/growable-column.ts';
import { none } from './index-layout.ts';

const invalid = 255;
const comma = 44;
const semicolon = 59;
/** Value of each Base64 letter (RFC 4648 section 4). */
const digits = new Uint8Array(128).fill(invalid);
[...'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/'].forEach((letter, value) => {
  digits[letter.charCodeAt(0)] = value;
});

const maximumLines = 20_000_000;

type Columns = Readonly<Record<'column' | 'source' | 'line' | 'originalColumn' | 'name', Uint32Array>>;

/** What the sources and names of one map are called among those of the whole script. */
interface MapNames {
  readonly firstSource: number;
  readonly sources: number;
  readonly nameIds: Uint32Array;
}

/** The decoded mappings of a script in parallel columns, in the order of lines and columns. All count from 0. */
export class Segments {
  /** Where the segments of each line begin. */
  readonly lineFirst = new GrowableColumn();
  readonly column = new GrowableColumn();
  readonly source = new GrowableColumn();
  readonly line = new GrowableColumn();
  readonly originalColumn = new GrowableColumn();
  readonly name = new GrowableColumn();
  invalidSegments = 0;

  /**
   * Adds the mappings of one map (ECMA-426 section 9.2, "Mappings Grammar"). Its sources become those from `firstSource`
   * on, its names those of `nameIds`. A segment that the grammar does not allow is left out and counted.
   */
  add(mappings: string, place: { readonly line: number; readonly column: number }, names: MapNames): void {
    this.openLine(place.line);
    const out = this.reserve(countSegments(mappings));
    let written = this.column.length;
    let generatedLine = place.line;
    let columnBase = place.column;
    /** Column, source, line, original column and name; each field of a segment adds to its own. */
    const fields = new Int32Array(5);
    /** What they were before the segment being read, should it turn out not to be one. */
    const before = new Int32Array(5);
    /** Fields of the segment read so far, and the one being read. */
    let count = 0;
    let value = 0;
    let shift = 0;
    let isBroken = false;
    const length = mappings.length;
    for (let at = 0; at <= length; at++) {
      const code = at === length ? semicolon : mappings.charCodeAt(at);
      if (code !== comma && code !== semicolon) {
        const digit = code < 128 ? (digits[code] as number) : invalid;
        if (digit === invalid || count >= 5 || shift > 30) {
          isBroken = true;
          continue;
        }
        // Digits hold five bits each, the sixth says that more follow.
        value |= (digit & 31) << shift;
        shift += 5;
        if ((digit & 32) !== 0) continue;
        (fields[count++] as number) += value & 1 ? -(value >>> 1) : value >>> 1;
        value = 0;
        shift = 0;
        continue;
      }
      if (count > 0 || shift > 0 || isBroken) {
        const isWhole = !isBroken && shift === 0 && count !== 2 && count !== 3;
        if (isWhole && writeSegment(out, written, columnBase, fields, count, names)) {
          before.set(fields);
          written++;
        } else {
          this.invalidSegments++;
          fields.set(before);
        }
        count = 0;
        value = 0;
        shift = 0;
        isBroken = false;
      }
      if (code === semicolon && at < length) {
        if (++generatedLine > maximumLines) break;
        this.setLength(written);
        this.openLine(generatedLine);
        fields[0] = before[0] = columnBase = 0;
      }
    }
    this.setLength(written);
  }

  private reserve(room: number): Columns {
    return {
      column: this.column.reserve(room),
      source: this.source.reserve(room),
      line: this.line.reserve(room),
      originalColumn: this.originalColumn.reserve(room),
      name: this.name.reserve(room),
    };
  }

  private setLength(length: number): void {
    this.column.length = this.source.length = this.line.length = this.originalColumn.length = this.name.length = length;
  }

  private openLine(line: number): void {
    while (this.lineFirst.length <= line && this.lineFirst.length <= maximumLines) this.lineFirst.push(this.column.length);
  }

  /** Closes the last line and puts the segments of each line in order, which most maps have them in already. */
  finish(): { lineFirst: Uint32Array; gather: (column: GrowableColumn) => Uint32Array } {
    const lines = this.lineFirst.length;
    this.lineFirst.push(this.column.length);
    let order: Uint32Array | null = null;
    for (let line = 0; line < lines; line++) {
      const from = this.lineFirst.at(line);
      const to = this.lineFirst.at(line + 1);
      let ascending = true;
      for (let at = from + 1; at < to && ascending; at++) ascending = this.column.at(at - 1) <= this.column.at(at);
      if (ascending) continue;
      order ??= Uint32Array.from({ length: this.column.length }, (_, index) => index);
      order.subarray(from, to).sort((a, b) => this.column.at(a) - this.column.at(b) || a - b);
    }
    const places = order;
    return { lineFirst: this.lineFirst.view(), gather: (column) => (places ? column.gather(places) : column.view()) };
  }
}

/** Writes a segment of so many fields; says no, and writes nothing, when they point before the beginning of something. */
function writeSegment(out: Columns, at: number, columnBase: number, fields: Int32Array, count: number, names: MapNames): boolean {
  const column = fields[0] as number;
  const source = fields[1] as number;
  const line = fields[2] as number;
  const originalColumn = fields[3] as number;
  const name = fields[4] as number;
  if (column < 0 || source < 0 || line < 0 || originalColumn < 0) return false;
  out.column[at] = columnBase + column;
  out.source[at] = count >= 4 && source < names.sources ? names.firstSource + source : none;
  out.line[at] = line;
  out.originalColumn[at] = originalColumn;
  out.name[at] = count === 5 && name >= 0 && name < names.nameIds.length ? (names.nameIds[name] as number) : none;
  return true;
}

function countSegments(mappings: string): number {
  let count = 1;
  for (let at = 0; at < mappings.length; at++) {
    const code = mappings.charCodeAt(at);
    if (code === comma || code === semicolon) count++;
  }
  return count;
}
