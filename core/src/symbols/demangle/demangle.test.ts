import { readFileSync } from 'node:fs';
import { gunzipSync } from 'node:zlib';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { demangle, demangleFunction } from './demangle.ts';

/** Real names with what the compilers' own tools make of them; `record.sh` there made the lists. */
const recorded = (file: string): (readonly [name: string, readable: string])[] =>
  gunzipSync(readFileSync(new URL(`../../../samples/names/${file}.tsv.gz`, import.meta.url)))
    .toString()
    .trimEnd()
    .split('\n')
    .map((line) => line.split('\t') as [string, string]);

describe('names of built libraries', () => {
  it.each([
    ['cpp', 0.999],
    ['rust', 1],
  ] as const)("in %s agree with the compilers' own tools in a share of at least %d", (file, share) => {
    const names = recorded(file);
    const wrong = names.filter(([name, readable]) => demangle(name) !== readable);
    expect(names.length).toBeGreaterThan(3_000);
    expect(1 - wrong.length / names.length, wrong.slice(0, 3).join('\n')).toBeGreaterThanOrEqual(share);
  });

  it('that cannot be demangled stay as they are', () => {
    for (const name of ['main', '_Z', '_ZN', '_ZN4larkE4', '_R', '_RNvC', 'Java_com_larkfield_Song_note', '-[LKSong play:]', ''])
      expect(demangle(name)).toBe(name);
  });

  it('mutated by a few letters never hang, throw or grow without bounds', () => {
    const names = [...recorded('cpp'), ...recorded('rust')].map(([name]) => name);
    const letters = fc.constantFrom('_', 'N', 'E', 'S', 'T', 'I', 'B', 'L', 'Z', 'R', '0', '9', 'J', 'D', 'p', 'X', '$', '.');
    const edits = fc.array(fc.tuple(fc.nat(), letters), { minLength: 1, maxLength: 6 });
    fc.assert(
      fc.property(fc.constantFrom(...names), edits, (name, changes) => {
        const mutated = [...name];
        for (const [place, letter] of changes) mutated[place % mutated.length] = letter;
        expect(demangle(mutated.join('')).length).toBeLessThan(80_000);
      }),
      { numRuns: 5_000 },
    );
  });

  it('that double themselves again and again are given up', () => {
    const doubling = `_Z1fI${'S_S_'.repeat(3)}E${'PF'.repeat(5_000)}v`;
    expect(demangle(doubling)).toBe(doubling);
    const pairs = Array.from(
      { length: 40 },
      (_, at) => `St4pairI${at === 0 ? 'ii' : `S${(at - 1).toString(36).toUpperCase()}_S${(at - 1).toString(36).toUpperCase()}_`}E`,
    );
    expect(demangle(`_Z1f${pairs.join('')}`).length).toBeLessThan(80_000);
  });
});

describe('names of functions', () => {
  it.each([
    ['_ZN12_GLOBAL__N_17highestERKN4lark6WindowIfEE.isra.0', '(anonymous namespace)::highest(lark::Window<float> const&)'],
    ['_ZN4lark8Detector5countEl.cold', 'lark::Detector::count(long)'],
    ['remember.constprop.0', 'remember'],
    ['_RNvNtCs8mHG15PcFrU_4nest5boxes8heaviest.llvm.150635', 'nest::boxes::heaviest'],
    ['_ZN4nest5boxes8heaviest17h0123456789abcdefE', 'nest::boxes::heaviest'],
    ['_ZN10many_names13gr$uf6$$udf$e9l$ue4$nge17h507f9153d6c88b57E', 'many_names::größe::länge'],
  ])('%s is %s', (name, readable) => expect(demangleFunction(name)).toBe(readable));
});
