import { crc32 as zlibCrc32 } from 'node:zlib';
import fc from 'fast-check';
import { expect, it } from 'vitest';
import { crc32 } from './crc32.ts';

it('agrees with the check value of the standard, whole and in parts', () => {
  const bytes = new TextEncoder().encode('123456789');
  expect(crc32(bytes)).toBe(0xcbf43926);
  expect(crc32(bytes.subarray(4), crc32(bytes.subarray(0, 4)))).toBe(0xcbf43926);
});

it('agrees with zlib on any bytes', () => {
  fc.assert(
    fc.property(fc.uint8Array(), (bytes) => {
      expect(crc32(bytes)).toBe(zlibCrc32(bytes));
    }),
  );
});
