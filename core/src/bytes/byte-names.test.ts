import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ByteNames } from './byte-names.ts';
import { MalformedInput } from './byte-reader.ts';

const text = (names: ByteNames, id: number) => new TextDecoder().decode(names.bytesOf(id));

describe('names as bytes', () => {
  it('are one number for one text, however often and from wherever they come', () => {
    fc.assert(
      fc.property(fc.array(fc.string({ unit: 'grapheme', maxLength: 400 }), { minLength: 1, maxLength: 60 }), (texts) => {
        const plain = texts.map((one) => one.replaceAll('\0', ''));
        const section = new TextEncoder().encode(plain.map((one) => `${one}\0`).join(''));
        const names = new ByteNames();
        let offset = 0;
        const ids = plain.map((one) => {
          const id = names.addStringAt(section, offset);
          offset += new TextEncoder().encode(one).length + 1;
          return id;
        });
        expect(ids.map((id) => text(names, id))).toEqual(plain);
        expect(names.size).toBe(new Set(plain).size);
        expect(plain.map((one) => names.addText(one))).toEqual(ids);
        const { offsets, bytes } = names.encode();
        expect(offsets).toHaveLength(names.size + 1);
        expect(bytes).toHaveLength(offsets.at(-1) as number);
      }),
    );
  });

  it('end with their section, and are none outside of it', () => {
    const names = new ByteNames();
    const section = new TextEncoder().encode('Rohrdommel');
    expect(text(names, names.addStringAt(section, 4))).toBe('dommel');
    expect([names.addStringAt(section, 10), names.addStringAt(section, -1), names.addStringAt(section, Number.NaN)]).toEqual([-1, -1, -1]);
  });

  it('of which a million begin within one another cost no more than a few times what is there', () => {
    const names = new ByteNames();
    const section = new Uint8Array(3_000_000).fill(65);
    const readAll = () => {
      for (let offset = 0; offset < 1_000_000; offset++) names.addStringAt(section, offset);
    };
    expect(readAll).toThrow(MalformedInput);
    // One that is known stays known, and is asked for as often as anybody likes.
    const first = names.addStringAt(section, 0);
    for (let turn = 0; turn < 1_000_000; turn++) names.addStringAt(section, 0);
    expect(names.bytesOf(first)).toHaveLength(2 ** 20);
  });
});
