import fc from 'fast-check';
import { expect, it } from 'vitest';
import { printable } from './printable.ts';

it.each([
  ['a\u0000b', 'a␀b'],
  ['one\r\ntwo\rthree\n\tfour', 'one\ntwo␍three\n\tfour'],
  ['\u001b[31mred\u007f\u0085', '␛[31mred␡\ufffd'],
  ['half \ud800 of a 🐦', 'half \ufffd of a 🐦'],
])('%j becomes %j', (text, shown) => expect(printable(text)).toBe(shown));

it('changes nothing a second time, and survives a trip through UTF-8', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'binary' }), (text) => {
      const once = printable(text);
      expect(printable(once)).toBe(once);
      expect(new TextDecoder().decode(new TextEncoder().encode(once))).toBe(once);
    }),
  );
});
