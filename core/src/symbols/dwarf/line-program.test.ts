import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { MalformedInput } from '../../bytes/byte-reader.ts';
import { ReadBudget } from '../../bytes/read-budget.ts';
import type { CodeIndexBuilder } from '../code/index-builder.ts';
import { none } from '../code/index-layout.ts';
import { LineRows } from '../code/line-rows.ts';
import { DW_LNE, DW_LNS } from './constants.ts';
import { readLineProgram } from './line-program.ts';

/** Numbers as DWARF 5 section 7.6 writes them. */
function uleb(value: number): number[] {
  const bytes: number[] = [];
  do {
    bytes.push((value % 128) + (value >= 128 ? 128 : 0));
    value = Math.floor(value / 128);
  } while (value > 0);
  return bytes;
}
function sleb(value: number): number[] {
  const bytes: number[] = [];
  for (;;) {
    const low = ((value % 128) + 128) % 128;
    value = Math.floor(value / 128);
    const isLast = (value === 0 && low < 64) || (value === -1 && low >= 64);
    bytes.push(low + (isLast ? 0 : 128));
    if (isLast) return bytes;
  }
}
const little = (value: number, size: number) => Array.from({ length: size }, (_, at) => Math.floor(value / 256 ** at) % 256);
const text = (value: string) => [...new TextEncoder().encode(value), 0];
const extended = (code: number, operands: number[] = []) => [0, ...uleb(1 + operands.length), code, ...operands];
const at = (address: number) => extended(DW_LNE.set_address, little(address, 8));
const end = extended(DW_LNE.end_sequence);

const machine = { minimumInstructionLength: 4, operationsPerInstruction: 1, lineBase: -5, lineRange: 14, opcodeBase: 14 };
type Machine = typeof machine;
/** How many operands the standard opcodes have; the last one is of no version of the standard. */
const operandCounts = [0, 1, 1, 1, 1, 0, 0, 0, 1, 0, 0, 1, 2];

/** A program of DWARF 4 (section 6.2.4), two folders and two files. */
function version4(
  program: readonly number[],
  { minimumInstructionLength, operationsPerInstruction, lineBase, lineRange, opcodeBase }: Machine = machine,
) {
  const tables = [
    ...[...text('src'), ...text('/usr/include'), 0],
    ...[...text('map.cc'), ...uleb(1), 0, 0, ...text('tile.h'), ...uleb(2), 0, 0, 0],
  ];
  const sizes = [minimumInstructionLength, operationsPerInstruction, 1, lineBase & 255, lineRange, opcodeBase];
  const header = [...sizes, ...operandCounts.slice(0, opcodeBase - 1), ...tables];
  return whole([...little(4, 2), ...little(header.length, 4), ...header, ...program]);
}
const whole = (unit: number[]) => [...little(unit.length, 4), ...unit];

/** Code lies below this place; what a linker dropped lies elsewhere. */
const codeEnd = 0x100_0000;

/** The rows of a program: place, file, line, column; a row of no file ends a sequence. */
function rowsOf(
  bytes: readonly number[],
  base = 0,
  compilationDirectory: string | null = '/builds/guide',
): [number, string | null, number, number][] {
  const names: string[] = [];
  const addText = (name: string) => (names.includes(name) ? names.indexOf(name) : names.push(name) - 1);
  const lines = new LineRows();
  const builder = { names: { addText }, lines, isCode: (place: number) => place < codeEnd } as unknown as CodeIndexBuilder;
  const unit = {
    ...{ addressSize: 8, littleEndian: true, compilationDirectory, name: 'map.cc', stringOffsetsBase: 0 },
    sections: { debug_line: Uint8Array.from(bytes) },
  };
  readLineProgram(unit as unknown as Parameters<typeof readLineProgram>[0], 0, {
    builder,
    base,
    budget: new ReadBudget(bytes.length, 'line programs'),
  });
  const { start, file, line, column } = lines.sorted();
  return [...start].map((place, row) => [
    place,
    file[row] === none ? null : (names[file[row] as number] ?? '?'),
    line[row] as number,
    column[row] as number,
  ]);
}

/** One step of the state machine to the next row, and the way it is written. */
interface Step {
  readonly instructions: number;
  readonly lines: number;
  readonly column: number | null;
  readonly way: 'special' | 'standard' | 'constant' | 'fixed';
  readonly between: number;
}

/** What a reader passes over: marks, instruction sets, an opcode of a later version, a discriminator, another vendor's. */
const passedOver = [
  [],
  [DW_LNS.negate_stmt],
  [DW_LNS.set_basic_block, DW_LNS.set_prologue_end, DW_LNS.set_epilogue_begin],
  [DW_LNS.set_isa, ...uleb(300)],
  [13, ...uleb(200), ...uleb(1)],
  extended(DW_LNE.set_discriminator, uleb(5)),
  extended(0x80, [1, 2, 3]),
];

function write({ instructions, lines, column, way, between }: Step): number[] {
  const { lineBase, lineRange, opcodeBase, minimumInstructionLength } = machine;
  const written = [...(passedOver[between] as number[]), ...(column === null ? [] : [DW_LNS.set_column, ...uleb(column)])];
  const special = (advance: number) => lines - lineBase + lineRange * advance + opcodeBase;
  const mayBeSpecial = lines >= lineBase && lines < lineBase + lineRange;
  const constant = Math.floor((255 - opcodeBase) / lineRange);
  if (way === 'special' && mayBeSpecial && special(instructions) <= 255) return [...written, special(instructions)];
  if (way === 'constant' && mayBeSpecial && instructions >= constant && special(instructions - constant) <= 255)
    return [...written, DW_LNS.const_add_pc, special(instructions - constant)];
  const bytes = instructions * minimumInstructionLength;
  const advance =
    way === 'fixed' && bytes < 65_536 ? [DW_LNS.fixed_advance_pc, ...little(bytes, 2)] : [DW_LNS.advance_pc, ...uleb(instructions)];
  return [...written, ...advance, DW_LNS.advance_line, ...sleb(lines), DW_LNS.copy];
}

const step = fc.record({
  instructions: fc.oneof(fc.integer({ min: 1, max: 40 }), fc.integer({ min: 1, max: 40_000 })),
  lines: fc.oneof(fc.integer({ min: -5, max: 8 }), fc.integer({ min: -100, max: 100_000 })),
  column: fc.option(fc.nat(500)),
  way: fc.constantFrom('special' as const, 'standard' as const, 'constant' as const, 'fixed' as const),
  between: fc.nat(passedOver.length - 1),
});

describe('a line program', () => {
  it('gives the same rows in whichever of its ways they are written', () => {
    fc.assert(
      fc.property(fc.array(step, { minLength: 1, maxLength: 30 }), (steps) => {
        const base = 0x40_0000;
        // Far enough down that no step back leads before the first line.
        const program = [
          ...at(base + 64),
          DW_LNS.advance_line,
          ...sleb(10_000),
          DW_LNS.copy,
          ...steps.flatMap(write),
          DW_LNS.advance_pc,
          ...uleb(1),
          ...end,
        ];
        let [place, line, column] = [64, 10_001, 0];
        const wanted: [number, string, number, number][] = [[place, '/builds/guide/src/map.cc', line, column]];
        for (const one of steps) {
          place += one.instructions * machine.minimumInstructionLength;
          line += one.lines;
          column = one.column ?? column;
          const before = wanted.at(-1);
          // A row that says what the one before says adds nothing.
          if (before?.[2] !== line || before[3] !== column) wanted.push([place, '/builds/guide/src/map.cc', line, column]);
        }
        expect(rowsOf(version4(program), base)).toEqual([...wanted, [place + machine.minimumInstructionLength, null, 0, 0]]);
      }),
    );
  });

  it('counts operations where an instruction holds several', () => {
    const bundles = { ...machine, minimumInstructionLength: 16, operationsPerInstruction: 3 };
    const program = [...at(32), DW_LNS.copy, DW_LNS.advance_pc, ...uleb(4), DW_LNS.advance_line, ...sleb(1), DW_LNS.copy];
    // Four operations are one bundle and one operation; two more complete the next.
    const more = [DW_LNS.advance_pc, ...uleb(2), DW_LNS.advance_line, ...sleb(1), DW_LNS.copy, DW_LNS.advance_pc, ...uleb(3), ...end];
    expect(rowsOf(version4([...program, ...more], bundles)).map(([place, , line]) => [place, line])).toEqual([
      [32, 1],
      [48, 2],
      [64, 3],
      [80, 0],
    ]);
  });

  it('names files by their folders: of the compilation, below it, or anywhere', () => {
    const rows = [
      DW_LNS.copy,
      DW_LNS.set_file,
      2,
      DW_LNS.advance_pc,
      1,
      DW_LNS.copy,
      DW_LNS.set_file,
      9,
      DW_LNS.advance_pc,
      1,
      DW_LNS.copy,
    ];
    const files = rowsOf(version4([...at(0), ...rows, DW_LNS.advance_pc, 1, ...end])).map(([, file]) => file);
    // The program lists no ninth file, so nobody knows.
    expect(files).toEqual(['/builds/guide/src/map.cc', '/usr/include/tile.h', null, null]);
  });

  it('of version 5 describes the columns of its own tables, and knows the folder of a unit that does not tell it', () => {
    const [path, directory, hash] = [1, 2, 5];
    const [string, udata, data16] = [0x08, 0x0f, 0x1e];
    const folders = [1, path, string, 2, ...text('/builds/trails'), ...text('lib')];
    const files = [3, path, string, directory, udata, hash, data16, 2];
    const listed = [...text('main.cc'), 0, ...new Array(16).fill(7), ...text('route.cc'), 1, ...new Array(16).fill(9)];
    const sizes = [1, 1, 1, machine.lineBase & 255, machine.lineRange, machine.opcodeBase];
    const header = [...sizes, ...operandCounts, ...folders, ...files, ...listed];
    const program = [
      ...at(16),
      DW_LNS.set_file,
      0,
      DW_LNS.copy,
      DW_LNS.set_file,
      1,
      DW_LNS.advance_pc,
      4,
      DW_LNS.copy,
      DW_LNS.advance_pc,
      4,
      ...end,
    ];
    const bytes = whole([...little(5, 2), 8, 0, ...little(header.length, 4), ...header, ...program]);
    expect(rowsOf(bytes, 0, null).map(([place, file]) => [place, file])).toEqual([
      [16, '/builds/trails/main.cc'],
      [20, '/builds/trails/lib/route.cc'],
      [24, null],
    ]);
  });

  it('leaves out what a linker dropped, and a sequence whose addresses step back', () => {
    const sequence = (from: number, further: number[] = []) => [...at(from), DW_LNS.copy, ...further, DW_LNS.advance_pc, 1, ...end];
    const back = [DW_LNS.advance_pc, 2, DW_LNS.advance_line, 1, DW_LNS.copy, ...at(0x500), DW_LNS.copy];
    const program = [...sequence(0x1000), ...sequence(codeEnd + 0x40), ...sequence(0x2000, back), ...sequence(0x3000)];
    expect(rowsOf(version4(program)).map(([place]) => place)).toEqual([0x1000, 0x1004, 0x3000, 0x3004]);
  });

  it('that ends in the middle of a sequence gives none of its rows', () => {
    expect(rowsOf(version4([...at(0x1000), DW_LNS.copy, DW_LNS.advance_pc, 1, DW_LNS.copy]))).toEqual([]);
  });

  it('of an unknown version or cut off is said to be malformed, and where', () => {
    const good = version4([...at(0x1000), DW_LNS.copy, ...end]);
    const later = [...good];
    later[4] = 6;
    expect(() => rowsOf(later)).toThrow(new MalformedInput('line programs of version 6 are not known', 4));
    for (const length of [0, 3, 7, 12, 20, good.length - 1]) expect(() => rowsOf(good.slice(0, length))).toThrow(MalformedInput);
  });

  it('of any bytes ends, with rows or with what is malformed', () => {
    const good = version4([...at(0x1000), DW_LNS.copy, DW_LNS.advance_pc, 1, DW_LNS.copy, DW_LNS.advance_pc, 1, ...end]);
    const change = fc.record({ place: fc.nat(good.length - 1), byte: fc.nat(255) });
    fc.assert(
      fc.property(fc.array(change, { minLength: 1, maxLength: 6 }), fc.uint8Array({ maxLength: 60 }), (changes, behind) => {
        const bytes = [...good, ...behind];
        for (const { place, byte } of changes) bytes[place] = byte;
        try {
          const places = rowsOf(bytes).map(([place]) => place);
          expect(places).toEqual([...places].sort((a, b) => a - b));
        } catch (error) {
          expect(error).toBeInstanceOf(MalformedInput);
        }
      }),
      { numRuns: 2_000 },
    );
  });
});
