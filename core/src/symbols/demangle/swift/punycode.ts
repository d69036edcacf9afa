import { decodePunycodeWith } from '../punycode.ts';

/** Punycode of identifiers (RFC 3492): digits are a to z and A to J, and ASCII signs stand behind U+D800. */
export const decodeSwiftPunycode = (text: string): string | null =>
  decodePunycodeWith(text, digitOf)
    ?.map((point) => String.fromCodePoint(point >= 0xd800 && point < 0xd880 ? point - 0xd800 : point))
    .join('') ?? null;

function digitOf(code: number): number {
  if (code >= 97 && code <= 122) return code - 97;
  if (code >= 65 && code <= 74) return code - 65 + 26;
  return -1;
}
