import { readdirSync, readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { MalformedInput } from '../bytes/byte-reader.ts';
import { sourceOf } from '../bytes/byte-source.ts';
import { inTime } from '../testing/in-time.ts';
import { CodeIndex } from './code/lookup.ts';
import { Warnings } from './code/warnings.ts';
import { readSplitFile } from './elf/index-elf.ts';
import { sectionsOf, writeIndexFile } from './index-file.ts';
import { indexSymbolFile } from './index-symbol-file.ts';
import { openSymbolIndex } from './open-index.ts';

interface NamedFile {
  readonly name: string;
  readonly bytes: Uint8Array;
}

const filesIn = (folder: string, kept: RegExp): NamedFile[] => {
  const url = new URL(`../../samples/${folder}/`, import.meta.url);
  return readdirSync(url)
    .filter((name) => kept.test(name))
    .map((name) => ({ name, bytes: new Uint8Array(readFileSync(new URL(name, url))) }));
};

/** How many mutated files are read; the command for hostile input asks for many more. */
const runs = Math.ceil(Number(process.env.EMBER_HOSTILE_RUNS ?? 3_000) / 2);

const interesting = fc.constantFrom(0, 1, 0x7f, 0x80, 0xff, 0x41, 0x0a);

/** A real file with bytes changed, whole numbers made huge, a part cut out or doubled, or its end missing. */
const mutated = (originals: readonly NamedFile[]) =>
  fc
    .tuple(
      fc.constantFrom(...originals),
      fc.array(fc.tuple(fc.nat(), interesting, fc.nat({ max: 8 })), { minLength: 1, maxLength: 12 }),
      fc.oneof({ weight: 6, arbitrary: fc.constant(null) }, { weight: 1, arbitrary: fc.tuple(fc.nat(), fc.nat()) }),
    )
    .map(([{ name, bytes }, changes, cut]) => {
      const copy = bytes.slice();
      for (const [place, value, length] of changes) copy.fill(value, place % copy.length, (place % copy.length) + 1 + length);
      if (!cut) return { name, bytes: copy };
      const from = cut[0] % copy.length;
      return {
        name,
        bytes: cut[1] % 2 === 0 ? copy.slice(0, from) : new Uint8Array([...copy.slice(0, from), ...copy.slice(from + (cut[1] % 64))]),
      };
    });

const readHostile = (file: NamedFile): Promise<void> => inTime(() => read(file));

async function read({ name, bytes }: NamedFile): Promise<void> {
  const indexed = await indexSymbolFile(sourceOf(bytes), { fileName: name });
  if (!indexed.ok) expect(indexed.problem.message.length).toBeGreaterThan(10);
  else
    for (const { built } of indexed.value) {
      const opened = openSymbolIndex(sectionsOf(built));
      if (!opened.ok) throw new Error(opened.problem.message);
      if (opened.value.kind === 'code') {
        const { base } = opened.value.index.summary;
        for (let offset = 0; offset < 0x800; offset += 13) opened.value.index.lookup(base + offset);
      } else if (opened.value.kind === 'sourcemap') for (let column = 0; column < 2_000; column += 97) opened.value.index.lookup(1, column);
      else if (opened.value.kind === 'pdb') for (let row = 0; row < 40; row++) opened.value.index.lookup(0x0600_0000 + row, row * 3);
      else if (opened.value.kind === 'assembly') opened.value.index.tokens('Larkfield.Survey.Store.Find', 'System.String name');
    }
}

describe('mutated symbol files give an index or a problem in words, in bounded time', () => {
  it.each([
    ['of ELF and DWARF', filesIn('binaries/built', /\.(?:so|debug)$/)],
    ['of Mach-O', filesIn('binaries/built', /^apple/)],
    ['of source maps', filesIn('source-maps/built', /\.map$/)],
    ['of .NET assemblies and portable PDBs', filesIn('dotnet-symbols', /\.(?:dll|pdb)$/)],
  ] as const)(
    '%s',
    async (_, originals) => {
      expect(originals.length).toBeGreaterThan(2);
      await fc.assert(fc.asyncProperty(mutated(originals), readHostile), { numRuns: Math.ceil(runs / 3) });
    },
    600_000,
  );

  it('of packages of split units', async () => {
    await fc.assert(
      fc.asyncProperty(mutated(filesIn('binaries/built', /\.dwp$/)), async ({ bytes }) => {
        try {
          await readSplitFile(sourceOf(bytes), new Warnings());
        } catch (error) {
          expect(error).toBeInstanceOf(MalformedInput);
        }
      }),
      { numRuns: Math.ceil(runs / 6) },
    );
  }, 600_000);
});

describe('an index file', () => {
  it('cut off or changed at any byte is refused, so that it is made again', async () => {
    const [original] = filesIn('binaries/built', /clang-arm64-O2/);
    const indexed = await indexSymbolFile(sourceOf((original as { bytes: Uint8Array }).bytes), { fileName: 'libsong.so' });
    if (!indexed.ok || !indexed.value[0]) throw new Error('no index');
    const file = writeIndexFile(indexed.value[0].built);
    expect(CodeIndex.open(file).ok).toBe(true);
    for (let at = 0; at < file.length; at += 7) {
      expect(CodeIndex.open(file.slice(0, at)).ok).toBe(false);
      const changed = file.slice();
      changed[at] = (changed[at] as number) ^ 0x10;
      expect(CodeIndex.open(changed).ok).toBe(false);
    }
  });
});
