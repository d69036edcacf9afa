import { decodePunycodeWith } from '../punycode.ts';

/** Punycode of identifiers as Rust writes it (RFC 3492): digits are a to z and 0 to 9. */
export function decodePunycode(text: string): string | null {
  const points = decodePunycodeWith(text, digitOf);
  return points && String.fromCodePoint(...points);
}

function digitOf(code: number): number {
  if (code >= 97 && code <= 122) return code - 97;
  if (code >= 48 && code <= 57) return code - 48 + 26;
  return -1;
}
