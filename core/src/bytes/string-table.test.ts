import fc from 'fast-check';
import { expect, it } from 'vitest';
import { StringTable, StringTableBuilder } from './string-table.ts';

const built = (texts: readonly string[]) => {
  const builder = new StringTableBuilder();
  const ids = texts.map((text) => builder.add(text));
  const { offsets, bytes } = builder.encode();
  return { table: new StringTable(offsets, bytes), ids };
};

it('gives every string back, the same number for the same one', () => {
  fc.assert(
    fc.property(fc.array(fc.string({ unit: 'grapheme', maxLength: 40 })), (texts) => {
      const { table, ids } = built(texts);
      expect(ids.map((id) => table.get(id))).toEqual(texts);
      expect(new Set(ids).size).toBe(new Set(texts).size);
    }),
  );
});

it('finds the first place that is not below what is searched', () => {
  fc.assert(
    fc.property(fc.array(fc.string({ maxLength: 6 })), fc.string({ maxLength: 6 }), (texts, wanted) => {
      const sorted = [...texts].sort((a, b) => (a < b ? -1 : a > b ? 1 : 0));
      const { table, ids } = built(sorted);
      const place = sorted.findIndex((text) => text >= wanted);
      expect(table.placeIn(Uint32Array.from(ids), wanted)).toBe(place < 0 ? sorted.length : place);
    }),
  );
});
