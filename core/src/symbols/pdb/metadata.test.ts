import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { ByteReader, MalformedInput } from '../../bytes/byte-reader.ts';
import { readAssemblyFile } from '../assembly/pe-file.ts';
import { compressedSigned, compressedUnsigned, guidDigits, isMetadata, Metadata, table } from './metadata.ts';
import { parameterTypes } from './signature.ts';

const reader = (hex: string) =>
  new ByteReader(
    Uint8Array.from(hex.match(/../g) ?? [], (byte) => Number.parseInt(byte, 16)),
    true,
  );

describe('compressed numbers, as ECMA-335 II.23.2 gives them', () => {
  it.each([
    [0x03, '03'],
    [0x7f, '7f'],
    [0x80, '8080'],
    [0x2e57, 'ae57'],
    [0x3fff, 'bfff'],
    [0x4000, 'c0004000'],
    [0x1fff_ffff, 'dfffffff'],
  ])('%i is written %s', (value, bytes) => {
    const at = reader(bytes);
    expect(compressedUnsigned(at)).toBe(value);
    expect(at.atEnd).toBe(true);
  });

  it.each([
    [3, '06'],
    [-3, '7b'],
    [64, '8080'],
    [-64, '01'],
    [8192, 'c0004000'],
    [-8192, '8001'],
    [268_435_455, 'dffffffe'],
    [-268_435_456, 'c0000001'],
  ])('%i with a sign is written %s', (value, bytes) => expect(compressedSigned(reader(bytes))).toBe(value));

  it.each(['e0', 'ff', '80', 'c000'])('%s is none', (bytes) => expect(() => compressedUnsigned(reader(bytes))).toThrow(MalformedInput));
});

it('a GUID is printed with its first three numbers turned round', () => {
  const bytes = Uint8Array.from({ length: 16 }, (_, index) => index);
  expect(guidDigits(bytes)).toBe('030201000504070608090a0b0c0d0e0f');
});

describe('the metadata of an assembly', () => {
  const assembly = async () => {
    const file = new Uint8Array(readFileSync(new URL('../../../samples/dotnet-symbols/Survey.dll', import.meta.url)));
    return new Metadata((await readAssemblyFile(file)).metadata);
  };

  it('has its rows and names, and refuses rows that are not there', async () => {
    const metadata = await assembly();
    expect(metadata.text(table.module, 1, 1)).toMatch(/^Survey/);
    expect(metadata.rows(table.typeDef)).toBeGreaterThan(5);
    expect(() => metadata.cell(table.typeDef, 0, 0)).toThrow(MalformedInput);
    expect(() => metadata.cell(table.typeDef, metadata.rows(table.typeDef) + 1, 0)).toThrow('has no row');
  });

  it('is told by its first bytes', () => {
    expect(isMetadata(Uint8Array.of(0x42, 0x53, 0x4a, 0x42))).toBe(true);
    expect(isMetadata(Uint8Array.of(0x42, 0x53))).toBe(false);
  });

  // Signatures are written by hand after II.23.2.1: convention, count, result, parameters.
  it.each([
    ['000001', []],
    ['200201080e', ['Int32', 'String']],
    ['0001011d0e', ['String[]']],
    ['0001011408020000', ['Int32[,]']],
    ['0001011008', ['Int32&']],
    ['0001010f05', ['Byte*']],
    ['1001020113001e01', ['T', 'B']],
    ['0001011b00010108', ['(fnptr)']],
  ])('signature %s takes %j', async (hex, types) => {
    const read = parameterTypes(await assembly(), reader(hex).bytes, { ofType: ['T'], ofMethod: ['A', 'B'] });
    expect(read).toEqual(types);
  });

  it('does not follow a type without end', async () => {
    const metadata = await assembly();
    const endless = new Uint8Array(200).fill(0x0f);
    endless.set([0, 1, 1], 0);
    expect(() => parameterTypes(metadata, endless, { ofType: [], ofMethod: [] })).toThrow('nested too deeply');
  });
});
