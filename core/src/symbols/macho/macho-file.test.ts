import { describe, expect, it } from 'vitest';
import { MalformedInput } from '../../bytes/byte-reader.ts';
import { sourceOf } from '../../bytes/byte-source.ts';
import { readMachFile, slicesOf } from './macho-file.ts';

const little = (value: number, size: number) => Array.from({ length: size }, (_, at) => Math.floor(value / 256 ** at) % 256);
const big = (value: number, size: number) => little(value, size).reverse();
const fixed = (text: string) => [...new TextEncoder().encode(text), ...new Array(16 - text.length).fill(0)];

/** A section of a 64-bit segment: struct section_64 of <mach-o/loader.h>. */
const section = (name: string, address: number) => [
  ...[...fixed(name), ...fixed('__TEXT'), ...little(address, 8), ...little(0x40, 8), ...little(0x200, 4)],
  ...[...new Array(12).fill(0), ...little(0x8000_0400, 4), ...new Array(12).fill(0)],
];
/** LC_SEGMENT_64; it may claim more sections than it brings. */
function segment(sections: readonly number[][], claimed = sections.length): number[] {
  const body = [...fixed('__TEXT'), ...little(0x1_0000_0000, 8), ...little(0x4000, 8), ...little(0, 8), ...little(0x4000, 8)];
  const rest = [...little(5, 4), ...little(5, 4), ...little(claimed, 4), ...little(0, 4), ...sections.flat()];
  return [...little(0x19, 4), ...little(8 + body.length + rest.length, 4), ...body, ...rest];
}
const uuid = [...little(0x1b, 4), ...little(24, 4), ...Array.from({ length: 16 }, (_, at) => 16 * at + at)];
const symbols = [...little(0x2, 4), ...little(24, 4), ...little(0x300, 4), ...little(2, 4), ...little(0x320, 4), ...little(16, 4)];

function slice(commands: readonly number[][]): Uint8Array {
  const body = commands.flat();
  const header = [0xcf, 0xfa, 0xed, 0xfe, ...little(0x0100_000c, 4), ...little(0, 4), ...little(10, 4), ...little(commands.length, 4)];
  return Uint8Array.from([...header, ...little(body.length, 4), ...new Array(8).fill(0), ...body]);
}

describe('a Mach-O slice', () => {
  it('is read with its segments, sections, symbol table and UUID', async () => {
    const bytes = slice([segment([section('__text', 0x1_0000_0200), section('__stubs', 0x1_0000_0400)]), uuid, symbols]);
    expect(await readMachFile(sourceOf(bytes))).toMatchObject({
      ...{ architecture: 'arm64', fileType: 10, uuid: '00112233445566778899aabbccddeeff', textAddress: 0x1_0000_0000 },
      segments: [{ fileOffset: 0, fileSize: 0x4000, address: 0x1_0000_0000, memorySize: 0x4000, executable: true }],
      sections: [
        { segment: '__TEXT', name: '__text', address: 0x1_0000_0200, sizeBytes: 0x40, offset: 0x200 },
        { segment: '__TEXT', name: '__stubs', address: 0x1_0000_0400, sizeBytes: 0x40, offset: 0x200 },
      ],
      symbolTable: { offset: 0x300, count: 2, strings: { offset: 0x320, sizeBytes: 16 } },
    });
  });

  it('lies in a universal file where its row says, and nowhere outside', async () => {
    const thin = slice([uuid]);
    const row = (offset: number, size: number) => [...big(0x0100_000c, 4), ...big(0, 4), ...big(offset, 4), ...big(size, 4), ...big(4, 4)];
    const universal = (offset: number, size: number) =>
      Uint8Array.from([0xca, 0xfe, 0xba, 0xbe, ...big(1, 4), ...row(offset, size), ...thin]);
    const [only] = await slicesOf(sourceOf(universal(28, thin.length)));
    expect((await readMachFile(only as never)).uuid).toBe('00112233445566778899aabbccddeeff');
    await expect(slicesOf(sourceOf(universal(29, thin.length)))).rejects.toThrow(MalformedInput);
    await expect(slicesOf(sourceOf(Uint8Array.from([0xca, 0xfe, 0xba, 0xbf, 0, 0, 1, 0])))).rejects.toThrow('the file claims 256 slices');
  });

  it('whose segment claims sections that are not its own is malformed', async () => {
    await expect(readMachFile(sourceOf(slice([segment([section('__text', 0)], 2), uuid])))).rejects.toThrow(MalformedInput);
    await expect(readMachFile(sourceOf(slice([[...little(0x19, 4), ...little(4, 4)]])))).rejects.toThrow('a load command claims 4 bytes');
  });

  it('of millions of small commands costs no more than its bytes', async () => {
    // Each eight bytes are a segment of their own that, read on into what follows, would have 25 sections.
    const command = [...little(0x19, 4), ...little(8, 4)];
    const bytes = new Uint8Array(32 + 12_000_000);
    bytes.set(slice([command]).subarray(0, 32));
    for (let at = 32; at < bytes.length; at += 8) bytes.set(command, at);
    const view = new DataView(bytes.buffer);
    view.setUint32(16, 1_500_000, true);
    view.setUint32(20, 12_000_000, true);
    await expect(readMachFile(sourceOf(bytes))).rejects.toThrow(MalformedInput);
  });
});
