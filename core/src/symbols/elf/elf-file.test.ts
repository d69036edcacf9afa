import { describe, expect, it } from 'vitest';
import { MalformedInput } from '../../bytes/byte-reader.ts';
import { sourceOf } from '../../bytes/byte-source.ts';
import { architectureOf, type ElfFile, readBuildId, readElfFile, SHF, SHT } from './elf-file.ts';

interface WrittenSection {
  readonly name: string;
  readonly type: number;
  readonly flags?: number;
  readonly address?: number;
  readonly content: Uint8Array;
}

interface Shape {
  readonly is64: boolean;
  readonly littleEndian: boolean;
  readonly machine: number;
  /** Counts that do not fit into the header stand in the first section, as gABI chapter 4 says. */
  readonly extended?: boolean;
}

/** Writes numbers of the class and byte order of a file one behind the other. */
class Writer {
  readonly bytes: number[] = [];
  constructor(private readonly shape: Shape) {}

  number(value: number, size: number): this {
    const digits = Array.from({ length: size }, (_, at) => Math.floor(value / 256 ** at) % 256);
    this.bytes.push(...(this.shape.littleEndian ? digits : digits.reverse()));
    return this;
  }
  half = (value: number) => this.number(value, 2);
  word = (value: number) => this.number(value, 4);
  wide = (value: number) => this.number(value, this.shape.is64 ? 8 : 4);
}

/** An ELF file of sections, with one loaded segment over the first of them. System V gABI chapters 4 and 5. */
function writeElf(shape: Shape, sections: readonly WrittenSection[]): Uint8Array {
  const { is64, littleEndian, machine, extended = false } = shape;
  const names = `\0${sections.map(({ name }) => `${name}\0`).join('')}.shstrtab\0`;
  const all = [...sections, { name: '.shstrtab', type: 3, content: new TextEncoder().encode(names) }];
  const headerBytes = is64 ? 64 : 52;
  const programBytes = is64 ? 56 : 32;
  let end = headerBytes + programBytes;
  const offsets = all.map(({ content }) => {
    const at = end;
    end += content.length;
    return at;
  });
  const file = new Writer(shape);
  file.bytes.push(0x7f, 0x45, 0x4c, 0x46, is64 ? 2 : 1, littleEndian ? 1 : 2, 1, ...new Array(9).fill(0));
  file.half(3).half(machine).word(1).wide(0).wide(headerBytes).wide(end).word(0).half(headerBytes);
  file
    .half(programBytes)
    .half(extended ? 0xffff : 1)
    .half(is64 ? 64 : 40);
  file.half(extended ? 0 : all.length + 1).half(extended ? 0xffff : all.length);
  const first = all[0];
  const size = first?.content.length ?? 0;
  if (is64)
    file
      .word(1)
      .word(5)
      .wide(offsets[0] as number)
      .wide(0x4000)
      .wide(0)
      .wide(size)
      .wide(size + 16)
      .wide(0);
  else
    file
      .word(1)
      .word(offsets[0] as number)
      .word(0x4000)
      .word(0)
      .word(size)
      .word(size + 16)
      .word(5)
      .word(0);
  for (const { content } of all) file.bytes.push(...content);
  const row = (
    name: number,
    type: number,
    rest: { flags?: number; address?: number; offset?: number; size?: number; link?: number; info?: number },
  ) =>
    file
      .word(name)
      .word(type)
      .wide(rest.flags ?? 0)
      .wide(rest.address ?? 0)
      .wide(rest.offset ?? 0)
      .wide(rest.size ?? 0)
      .word(rest.link ?? 0)
      .word(rest.info ?? 0)
      .wide(1)
      .wide(0);
  row(0, 0, extended ? { size: all.length + 1, link: all.length, info: 1 } : {});
  for (const [index, { name, type, content, ...more }] of all.entries())
    row(names.indexOf(`\0${name}\0`) + 1, type, { ...more, offset: offsets[index] as number, size: content.length });
  return Uint8Array.from(file.bytes);
}

/** A note of an owner: gABI chapter 5, "Note Section". */
function note(shape: Shape, owner: string, type: number, description: readonly number[]): number[] {
  const written = new Writer(shape);
  const name = [...new TextEncoder().encode(`${owner}\0`)];
  const padded = (bytes: readonly number[]) => [...bytes, ...new Array(-bytes.length & 3).fill(0)];
  written.word(name.length).word(description.length).word(type);
  return [...written.bytes, ...padded(name), ...padded(description)];
}

const read = (bytes: Uint8Array): Promise<ElfFile> => readElfFile(sourceOf(bytes));
const code = { name: '.text', type: 1, flags: SHF.ALLOC | SHF.EXECINSTR, address: 0x4000, content: new Uint8Array(32).fill(0xc0) };

const shapes: Shape[] = [true, false].flatMap((is64) =>
  [true, false].flatMap((littleEndian) => [false, true].map((extended) => ({ is64, littleEndian, machine: 183, extended }))),
);

describe.each(shapes)('an ELF file of $is64, $littleEndian, $extended', (shape) => {
  const id = [0xa1, 0xb2, 0xc3, 0xd4, 0xe5];
  const notes = Uint8Array.from([
    ...note(shape, 'Larkfield', 7, [1, 2, 3]),
    ...note(shape, 'GNU', 1, [0, 0, 0, 0]),
    ...note(shape, 'GNU', 3, id),
  ]);

  it('is read with its sections, segments and build id', async () => {
    const file = await read(writeElf(shape, [code, { name: '.note.gnu.build-id', type: SHT.NOTE, content: notes }]));
    expect({ is64: file.is64, littleEndian: file.littleEndian, architecture: architectureOf(file) }).toEqual({
      is64: shape.is64,
      littleEndian: shape.littleEndian,
      architecture: 'arm64',
    });
    expect(file.sections.map(({ name }) => name)).toEqual(['', '.text', '.note.gnu.build-id', '.shstrtab']);
    expect(file.sections[1]).toMatchObject({ type: 1, flags: 6, address: 0x4000, sizeBytes: 32 });
    expect(file.segments).toEqual([
      { fileOffset: file.sections[1]?.offset, fileSize: 32, address: 0x4000, memorySize: 48, executable: true },
    ]);
    expect(await readBuildId(file)).toBe('a1b2c3d4e5');
  });

  it('that ends early is malformed, or has no sections where all of their table is missing', async () => {
    const whole = writeElf(shape, [code]);
    const tableAt = whole.length - 3 * (shape.is64 ? 64 : 40);
    for (let length = 0; length < whole.length; length += 7) {
      const sections = await read(whole.subarray(0, length)).then(
        (file) => file.sections.length,
        (error: Error) => error.constructor,
      );
      const isCutAway = !shape.extended && length >= (shape.is64 ? 120 : 84) && length <= tableAt;
      expect(sections, String(length)).toBe(isCutAway ? 0 : MalformedInput);
    }
  });
});

describe('a hostile ELF file', () => {
  const shape: Shape = { is64: true, littleEndian: true, machine: 62 };

  it('of a class, an encoding or a start that is not known is malformed', async () => {
    for (const [at, value] of [
      [0, 0],
      [4, 3],
      [5, 9],
    ] as const) {
      const bytes = writeElf(shape, [code]);
      bytes[at] = value;
      await expect(read(bytes)).rejects.toThrow(MalformedInput);
    }
    expect(architectureOf({ machine: 9_999 })).toBe('machine 9999');
  });

  it('with a note that claims more than there is carries no build id', async () => {
    const content = Uint8Array.from(note(shape, 'GNU', 3, [1, 2, 3, 4]));
    content[4] = 200;
    expect(await readBuildId(await read(writeElf(shape, [code, { name: '.note', type: SHT.NOTE, content }])))).toBeNull();
  });

  it('costs no more than its bytes: neither names that never end nor notes that lie upon each other are read again and again', async () => {
    const rows = 200_000;
    const small = writeElf(shape, [code]);
    const table = small.length - 3 * 64;
    const bytes = new Uint8Array(small.length + 64 * rows + 30_000_000).fill(0x41);
    bytes.set(small);
    const view = new DataView(bytes.buffer);
    view.setUint16(60, 0, true);
    view.setBigUint64(table + 32, BigInt(rows), true);
    // The names are thirty million letters without an end; every section is a note of almost a mebibyte of empty notes.
    const content = small.length + 64 * rows;
    const namesRow = table + 2 * 64;
    view.setBigUint64(namesRow + 24, BigInt(content), true);
    view.setBigUint64(namesRow + 32, 30_000_000n, true);
    bytes.fill(0, content + 15_000_000, content + 16_000_000);
    for (let row = 3; row < rows; row++) {
      const at = table + 64 * row;
      view.setUint32(at, row % 1_000, true);
      view.setUint32(at + 4, SHT.NOTE, true);
      view.setBigUint64(at + 24, BigInt(content + 15_000_000), true);
      view.setBigUint64(at + 32, 1_000_000n, true);
    }
    const file = await read(bytes);
    expect(file.sections).toHaveLength(rows);
    expect(file.sections.at(-1)?.name).toBe('');
    expect(await readBuildId(file)).toBeNull();
  });
});
