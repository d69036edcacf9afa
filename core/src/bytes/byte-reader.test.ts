import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ByteReader, decodeText, MalformedInput, stringAt, unsignedAt } from './byte-reader.ts';

const reader = (bytes: readonly number[], littleEndian = true) => new ByteReader(Uint8Array.from(bytes), littleEndian);

/** LEB128 of a number of any size, as DWARF 5 section 7.6 describes it; padded with as many empty groups as asked. */
function leb(value: bigint, isSigned: boolean, padding = 0): number[] {
  const bytes: number[] = [];
  for (;;) {
    const group = Number(BigInt.asUintN(7, value));
    value >>= 7n;
    const isLast = isSigned ? (value === 0n && group < 64) || (value === -1n && group >= 64) : value === 0n;
    bytes.push(isLast && padding === 0 ? group : group | 128);
    if (!isLast) continue;
    const filler = isSigned && group >= 64 ? 0x7f : 0;
    for (let left = padding; left > 0; left--) bytes.push(left === 1 ? filler : filler | 128);
    return bytes;
  }
}

const exact = fc.bigInt({ min: -(2n ** 52n), max: 2n ** 52n });

describe('numbers', () => {
  it('of LEB128 are read whatever their size, sign and padding, and passed over alike', () => {
    fc.assert(
      fc.property(exact, fc.nat(4), (value, padding) => {
        const signed = reader(leb(value, true, padding));
        expect(BigInt(signed.sleb())).toBe(value);
        expect(signed.atEnd).toBe(true);
        const positive = value < 0n ? -value : value;
        const unsigned = reader([...leb(positive, false, padding), 9]);
        expect(BigInt(unsigned.uleb())).toBe(positive);
        expect(unsigned.u8()).toBe(9);
        const passed = reader([...leb(value, true, padding), 9]);
        passed.skipLeb();
        expect(passed.u8()).toBe(9);
      }),
    );
  });

  it('of one to eight bytes are the same from either end', () => {
    fc.assert(
      fc.property(fc.constantFrom(1, 2, 3, 4, 8), fc.bigInt({ min: 0n, max: 2n ** 53n - 1n }), (size, wanted) => {
        const value = BigInt.asUintN(Math.min(53, 8 * size), wanted);
        const little = Array.from({ length: size }, (_, at) => Number((value >> BigInt(8 * at)) & 255n));
        for (const [bytes, isLittle] of [
          [little, true],
          [[...little].reverse(), false],
        ] as const) {
          expect(BigInt(reader(bytes, isLittle).unsigned(size))).toBe(value);
          expect(BigInt(unsignedAt(Uint8Array.from([7, ...bytes, 7]), 1, size, isLittle))).toBe(value);
        }
      }),
    );
    expect(reader([0xfb]).i8()).toBe(-5);
    expect(() => reader([1, 2, 3, 4, 5]).unsigned(5)).toThrow('a number of 5 bytes is not known at byte 0');
  });

  it('of LEB128 that never end are malformed, and say where', () => {
    const endless = new Array(40).fill(0x80);
    for (const read of ['uleb', 'sleb', 'skipLeb'] as const)
      expect(() => reader(endless)[read](), read).toThrow(/^a LEB128 number does not end at byte 1[67]$/);
  });
});

describe('a reader', () => {
  it('never reads past its end, which may lie before that of the bytes', () => {
    const bytes = Uint8Array.from({ length: 32 }, () => 1);
    fc.assert(
      fc.property(fc.nat(40), fc.nat(40), fc.constantFrom(1, 2, 3, 4, 8), (position, end, size) => {
        const one = new ByteReader(bytes, true, position, end);
        const room = Math.min(end, bytes.length) - position;
        const attempts = [() => one.unsigned(size), () => one.take(size).length];
        for (const attempt of attempts) {
          one.position = position;
          if (size > room) expect(attempt).toThrow(MalformedInput);
          else {
            attempt();
            expect(one.position).toBe(position + size);
          }
        }
      }),
    );
    expect(() => reader([1, 2]).skip(Number.NaN)).toThrow(MalformedInput);
    expect(() => reader([1, 2]).skip(-1)).toThrow(MalformedInput);
    expect(() => reader([1, 2]).seek(3)).toThrow('a reference points outside at byte 3');
    reader([1, 2]).seek(2);
  });

  it('reads texts up to their zero, and none that ends behind its own end', () => {
    const bytes = new TextEncoder().encode('Wiesenpieper\0Kr\u00e4he\0');
    const one = new ByteReader(bytes, true);
    expect([one.string(), one.string(), one.atEnd]).toEqual(['Wiesenpieper', 'Kr\u00e4he', true]);
    expect(() => new ByteReader(bytes, true, 0, 5).string()).toThrow('a string does not end at byte 0');
    expect([stringAt(bytes, 13), stringAt(bytes, 900), stringAt(bytes, -1), stringAt(bytes.subarray(0, 6), 0)]).toEqual([
      'Kr\u00e4he',
      '',
      '',
      'Wiesen',
    ]);
    expect(() => unsignedAt(bytes, bytes.length - 1, 2, true)).toThrow(MalformedInput);
  });

  it('decodes any text as the platform does, short or long', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 80 }), (text) => {
        const bytes = new TextEncoder().encode(text);
        expect(decodeText(bytes, 0, bytes.length)).toBe(new TextDecoder().decode(bytes));
      }),
    );
  });
});
