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
  add(
    mappings: string,
    place: { readonly line: number; readonly column: number },
    { firstSource, sources, nameIds }: { firstSource: number; sources: number; nameIds: Uint32Array },
  ): void {
    this.openLine(place.line);
    const room = countSegments(mappings);
    const columns = this.column.reserve(room);
    const sourcesOut = this.source.reserve(room);
    const linesOut = this.line.reserve(room);
    const originalColumns = this.originalColumn.reserve(room);
    const namesOut = this.name.reserve(room);
    let written = this.column.length;
    let generatedLine = place.line;
    let columnBase = place.column;
    let column = 0;
    let source = 0;
    let line = 0;
    let originalColumn = 0;
    let name = 0;
    /** What the fields were before the segment being read, should it turn out not to be one. */
    let columnBefore = 0;
    let sourceBefore = 0;
    let lineBefore = 0;
    let originalColumnBefore = 0;
    let nameBefore = 0;
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
        const field = value & 1 ? -(value >>> 1) : value >>> 1;
        if (count === 0) column += field;
        else if (count === 1) source += field;
        else if (count === 2) line += field;
        else if (count === 3) originalColumn += field;
        else name += field;
        count++;
        value = 0;
        shift = 0;
        continue;
      }
      if (count > 0 || shift > 0 || isBroken) {
        const isValid = !isBroken && shift === 0 && count !== 2 && count !== 3;
        if (!isValid || column < 0 || source < 0 || line < 0 || originalColumn < 0) {
          this.invalidSegments++;
          column = columnBefore;
          source = sourceBefore;
          line = lineBefore;
          originalColumn = originalColumnBefore;
          name = nameBefore;
        } else {
          columnBefore = column;
          sourceBefore = source;
          lineBefore = line;
          originalColumnBefore = originalColumn;
          nameBefore = name;
          columns[written] = columnBase + column;
          sourcesOut[written] = count >= 4 && source < sources ? firstSource + source : none;
          linesOut[written] = line;
          originalColumns[written] = originalColumn;
          namesOut[written] = count === 5 && name >= 0 && name < nameIds.length ? (nameIds[name] as number) : none;
          written++;
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
        column = 0;
        columnBefore = 0;
        columnBase = 0;
      }
    }
    this.setLength(written);
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

function countSegments(mappings: string): number {
  let count = 1;
  for (let at = 0; at < mappings.length; at++) {
    const code = mappings.charCodeAt(at);
    if (code === comma || code === semicolon) count++;
  }
  return count;
}
