import fc from 'fast-check';
import { expect, it } from 'vitest';
import { compareLists } from './compare-lists.ts';

const words = (text: string) => [...text];
const compare = (left: string, right: string) => compareLists(words(left), words(right), (item) => item);

it('lays equal items beside each other, and what differs alone', () => {
  expect(compare('abcd', 'abxd').map(({ left, right }) => `${left ?? '-'}${right ?? '-'}`)).toEqual(['aa', 'bb', 'c-', '-x', 'dd']);
});

it('keeps every item of both lists in order, and pairs only equal ones', () => {
  const list = fc.string({ unit: fc.constantFrom('a', 'b', 'c'), maxLength: 30 });
  fc.assert(
    fc.property(list, list, (left, right) => {
      const lines = compare(left, right);
      expect(lines.map((line) => line.left ?? '').join('')).toBe(left);
      expect(lines.map((line) => line.right ?? '').join('')).toBe(right);
      for (const { left: one, right: other } of lines) if (one !== null && other !== null) expect(one).toBe(other);
    }),
  );
});

it('pairs a list with itself wholly, however long', () => {
  const long = Array.from({ length: 2_000 }, (_, at) => `frame ${at}`);
  expect(compareLists(long, long, (item) => item).every(({ left, right }) => left === right)).toBe(true);
});
