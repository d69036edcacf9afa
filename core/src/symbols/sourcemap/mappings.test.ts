import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { none } from './index-layout.ts';
import { Segments } from './mappings.ts';

const letters = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/';

/** A number in Base64 VLQ: five bits a letter from the low end, the sixth says that more follow; the sign is the lowest bit. */
function vlq(value: number): string {
  let left = value < 0 ? -value * 2 + 1 : value * 2;
  let text = '';
  do {
    const digit = left % 32;
    left = Math.floor(left / 32);
    text += letters[digit + (left > 0 ? 32 : 0)];
  } while (left > 0);
  return text;
}

interface Segment {
  readonly column: number;
  readonly source: number | null;
  readonly line: number;
  readonly originalColumn: number;
  readonly name: number | null;
}

/** The mappings of lines of segments, each field as the difference to the one before (ECMA-426 section 9.2). */
function encode(lines: readonly (readonly Segment[])[]): string {
  let [source, line, originalColumn, name] = [0, 0, 0, 0];
  return lines
    .map((segments) => {
      let column = 0;
      return segments
        .map((one) => {
          let text = vlq(one.column - column);
          column = one.column;
          if (one.source === null) return text;
          text += vlq(one.source - source) + vlq(one.line - line) + vlq(one.originalColumn - originalColumn);
          [source, line, originalColumn] = [one.source, one.line, one.originalColumn];
          if (one.name === null) return text;
          text += vlq(one.name - name);
          name = one.name;
          return text;
        })
        .join(',');
    })
    .join(';');
}

const sources = 7;
const names = 9;
const columns = fc.uniqueArray(fc.nat(200_000), { maxLength: 12 }).map((all) => all.sort((a, b) => a - b));
const segments = columns.chain((all) =>
  fc.tuple(
    ...all.map((column) =>
      fc.record({
        column: fc.constant(column),
        source: fc.option(fc.nat(sources - 1), { freq: 5 }),
        line: fc.nat(1_000_000),
        originalColumn: fc.nat(1_000_000),
        name: fc.option(fc.nat(names - 1)),
      }),
    ),
  ),
);

/** What was decoded, line by line. */
function decode(text: string, place = { line: 0, column: 0 }) {
  const decoded = new Segments();
  decoded.add(text, place, { firstSource: 100, sources, nameIds: Uint32Array.from({ length: names }, (_, at) => 1_000 + at) });
  const { lineFirst, gather } = decoded.finish();
  const [column, source, line, originalColumn, name] = [
    decoded.column,
    decoded.source,
    decoded.line,
    decoded.originalColumn,
    decoded.name,
  ].map((one) => gather(one)) as [Uint32Array, Uint32Array, Uint32Array, Uint32Array, Uint32Array];
  const lines = Array.from({ length: lineFirst.length - 1 }, (_, at) =>
    Array.from({ length: (lineFirst[at + 1] as number) - (lineFirst[at] as number) }, (_, one) => {
      const place = (lineFirst[at] as number) + one;
      return [column[place], source[place], line[place], originalColumn[place], name[place]];
    }),
  );
  return { lines, invalid: decoded.invalidSegments };
}

describe('mappings', () => {
  it('are read as they were written, whatever the numbers', () => {
    fc.assert(
      fc.property(fc.array(segments, { minLength: 1, maxLength: 8 }), (lines) => {
        const { lines: decoded, invalid } = decode(encode(lines));
        expect(invalid).toBe(0);
        expect(decoded.map((one) => one.length)).toEqual(lines.map((one) => one.length));
        for (const [at, line] of lines.entries())
          for (const [place, wanted] of line.entries()) {
            const [column, source, originalLine, originalColumn, name] = decoded[at]?.[place] ?? [];
            expect(column).toBe(wanted.column);
            expect(source).toBe(wanted.source === null ? none : 100 + wanted.source);
            // A segment without a source has no place in it, nor a name.
            if (wanted.source === null) continue;
            expect([originalLine, originalColumn]).toEqual([wanted.line, wanted.originalColumn]);
            expect(name).toBe(wanted.name === null ? none : 1_000 + wanted.name);
          }
      }),
    );
  });

  it('of a part begin where the part stands; only its first line is moved to the side', () => {
    const line = [{ column: 3, source: 0, line: 0, originalColumn: 0, name: null }];
    const { lines } = decode(encode([line, line]), { line: 2, column: 10 });
    expect(lines.map((one) => one.map(([column]) => column))).toEqual([[], [], [13], [3]]);
  });

  it('that do not ascend are put in order, those of one column as they came', () => {
    const at = (column: number, line: number) => ({ column, source: 0, line, originalColumn: 0, name: null });
    const { lines } = decode(encode([[at(9, 0), at(2, 1), at(9, 2), at(4, 3)]]));
    expect(lines[0]?.map(([column, , line]) => [column, line])).toEqual([
      [2, 1],
      [4, 3],
      [9, 0],
      [9, 2],
    ]);
  });

  it('without sense are left out and counted, and cost their neighbours nothing', () => {
    const good = { column: 4, source: 1, line: 2, originalColumn: 3, name: 0 };
    const [first, second] = encode([[good, { ...good, column: 8 }]]).split(',') as [string, string];
    // Two and three fields, a letter of no alphabet, six fields, a number without an end, a step before the first column.
    for (const broken of ['AA', 'AAA', 'A!AA', 'AAAAAA', 'ggggggggA', 'A\u00e9AA', 'g', vlq(-50), `A${vlq(-9)}AA`]) {
      const { lines, invalid } = decode([first, broken, second].join(','));
      expect({ broken, invalid, lines }).toEqual({
        broken,
        invalid: 1,
        lines: [
          [
            [4, 101, 2, 3, 1_000],
            [8, 101, 2, 3, 1_000],
          ],
        ],
      });
    }
  });

  it('that name a source or name the map does not have point at none', () => {
    const far = { column: 0, source: sources, line: 1, originalColumn: 1, name: names };
    expect(decode(encode([[far]])).lines).toEqual([[[0, none, 1, 1, none]]]);
  });

  it('end in bounded memory, whatever the text', () => {
    fc.assert(
      fc.property(fc.string({ unit: fc.constantFrom(...letters, ',', ';', '%', ' '), maxLength: 400 }), (text) => {
        const { lines, invalid } = decode(text);
        const found = lines.reduce((sum, line) => sum + line.length, 0);
        const written = text.split(/[,;]/).filter((one) => one !== '').length;
        expect(found + invalid).toBe(written);
        for (const line of lines)
          for (const [at, one] of line.entries()) if (at > 0) expect(one[0]).toBeGreaterThanOrEqual(line[at - 1]?.[0] as number);
      }),
    );
  });
});
