import { describe, expect, it } from 'vitest';
import { CodeIndexBuilder } from '../code/index-builder.ts';
import { readDwarf } from './read-dwarf.ts';
import { type DwarfSections, dwarfSections } from './sections.ts';

const codeEnd = 0x10_0000;

function read(given: Partial<DwarfSections>): CodeIndexBuilder {
  const builder = new CodeIndexBuilder([{ start: 0, end: codeEnd }]);
  readDwarf({ sections: dwarfSections(given), littleEndian: true, base: 0, splits: [] }, builder);
  return builder;
}

/** Units of DWARF 4 of one entry with these four bytes, each with its own place of abbreviations. */
function unitsOf(count: number, abbreviationsOf: (unit: number) => number, entry: (unit: number) => number[]): Uint8Array {
  const size = 4 + 2 + 4 + 1 + entry(0).length;
  const bytes = new Uint8Array(size * count);
  const view = new DataView(bytes.buffer);
  for (let unit = 0; unit < count; unit++) {
    const at = unit * size;
    view.setUint32(at, size - 4, true);
    view.setUint16(at + 4, 4, true);
    view.setUint32(at + 6, abbreviationsOf(unit), true);
    bytes[at + 10] = 8;
    bytes.set(entry(unit), at + 11);
  }
  return bytes;
}

describe('debug information that multiplies its own size', () => {
  it('by tables of abbreviations within each other is read as far as a compiler would have written it', () => {
    // Five bytes are one abbreviation, and the table of each unit is all that follows the place it points at.
    const debug_abbrev = Uint8Array.from({ length: 1_000_000 }, (_, at) => [1, 0x11, 0, 0, 0][at % 5] as number);
    const { warnings } = read({
      debug_abbrev,
      debug_info: unitsOf(
        150_000,
        (unit) => 5 * unit,
        () => [1],
      ),
    });
    expect(warnings.count).toBeGreaterThan(100_000);
    expect(warnings.list.join('\n')).toContain('tables of abbreviations overlap too often');
  });

  it('by functions that all lie in one long list of ranges, too', () => {
    // A unit with children, and a subprogram with DW_AT_ranges (0x55) as DW_FORM_sec_offset.
    const debug_abbrev = Uint8Array.from([1, 0x11, 1, 0, 0, 2, 0x2e, 0, 0x55, 0x17, 0, 0, 0]);
    const debug_ranges = new Uint8Array(1_600_000);
    const view = new DataView(debug_ranges.buffer);
    for (let at = 0; at + 16 < debug_ranges.length; at += 16) {
      view.setUint32(at, 8, true);
      view.setUint32(at + 8, 16 + (at % 4_096), true);
    }
    const functions = Array.from({ length: 100_000 }, () => [2, 0, 0, 0, 0]).flat();
    const { warnings, scopes } = read({
      debug_abbrev,
      debug_ranges,
      debug_info: unitsOf(
        1,
        () => 0,
        () => [1, ...functions, 0],
      ),
    });
    expect(warnings.list.join('\n')).toContain('lists of ranges overlap too often');
    expect(scopes.functions).toBeLessThan(10);
  });

  it('by line programs within each other, too', () => {
    // An abbreviation of a unit with DW_AT_stmt_list (0x10) as DW_FORM_sec_offset (0x17).
    const debug_abbrev = Uint8Array.from([1, 0x11, 0, 0x10, 0x17, 0, 0, 0]);
    const programBytes = 4_000_000;
    const debug_line = new Uint8Array(programBytes);
    const view = new DataView(debug_line.buffer);
    // Wherever a unit points there is the head of a program whose length is all that follows.
    const headBytes = 40;
    for (let at = 0; at + 4 * headBytes < programBytes; at += headBytes) {
      view.setUint32(at, programBytes - at - 4, true);
      view.setUint16(at + 4, 4, true);
      view.setUint32(at + 6, 10, true);
      debug_line.set([1, 1, 1, 0xfb, 14, 1, 0, 0, 0, 0], at + 10);
    }
    const place = (value: number) => [value & 255, (value >> 8) & 255, (value >> 16) & 255, value >>> 24];
    const { warnings } = read({
      debug_abbrev,
      debug_line,
      debug_info: unitsOf(
        90_000,
        () => 0,
        (unit) => [1, ...place(headBytes * unit)],
      ),
    });
    expect(warnings.count).toBeGreaterThan(80_000);
    expect(warnings.list.join('\n')).toContain('line programs overlap too often');
  });
});

describe('what is code', () => {
  it('is told of any number of stretches, also of those that overlap or come in no order', () => {
    const stretches = Array.from({ length: 200_000 }, (_, at) => ({ start: 16 * at, end: 16 * at + 8 })).reverse();
    const builder = new CodeIndexBuilder([...stretches, { start: 100, end: 4_000 }, { start: 50, end: 130 }]);
    expect([0, 7, 8, 15, 16, 50, 129, 3_999, 4_000, 4_008, 4_007].map((place) => builder.isCode(place))).toEqual([
      true,
      true,
      false,
      false,
      true,
      true,
      true,
      true,
      true,
      false,
      true,
    ]);
    let code = 0;
    for (let place = 0; place < 3_200_000; place++) if (builder.isCode(place)) code++;
    // Eight of sixteen, and what the two long ones add between 50 and 4,000.
    expect(code).toBe(1_600_000 + (4_000 - 50) / 2 - 1 + 2);
  });
});
