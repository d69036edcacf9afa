import { readdirSync, readFileSync } from 'node:fs';
import { gunzipSync } from 'node:zlib';
import { describe, expect, it } from 'vitest';
import { sourceOf } from '../../bytes/byte-source.ts';
import type { DwarfSections } from '../dwarf/sections.ts';
import { indexElf, readDebugLink, readSplitFile } from '../elf/index-elf.ts';
import { type BuiltIndex, writeIndexFile } from '../index-file.ts';
import { indexSymbolFile } from '../index-symbol-file.ts';
import { indexMachO } from '../macho/index-macho.ts';
import { slicesOf } from '../macho/macho-file.ts';
import { CodeIndex } from './lookup.ts';
import { Warnings } from './warnings.ts';

/** Binaries of real compilers; `build.sh` there made them and recorded what the compiler suite's symbolizer says. */
const samples = new URL('../../../samples/binaries/', import.meta.url);
const built = readdirSync(new URL('built/', samples)).sort();
const bytesOf = (name: string) => new Uint8Array(readFileSync(new URL(`built/${name}`, samples)));

interface Answer {
  readonly from: number;
  readonly to: number;
  /** Function, file, line and column of each frame, innermost first. */
  readonly frames: readonly string[];
}

function truthOf(name: string): Answer[] {
  const text = gunzipSync(readFileSync(new URL(`truth/${name}.tsv.gz`, samples))).toString();
  return text
    .trimEnd()
    .split('\n')
    .map((line) => {
      const [from, to, ...cells] = line.split('\t') as [string, string, ...string[]];
      const frames: string[] = [];
      for (let at = 0; at < cells.length; at += 4) {
        const [name, file, line, column] = cells.slice(at, at + 4) as [string, string, string, string];
        // A column of no line says nothing, nor does the file of a mere symbol.
        frames.push(`${comparable(name)} ${line === '0' && !file.includes('/') ? '' : file} ${line} ${line === '0' ? 0 : column}`);
      }
      return { from: Number.parseInt(from, 16), to: Number.parseInt(to, 16), frames };
    });
}

/** Complete and base object constructors share their code, and then both names stand for it: <https://itanium-cxx-abi.github.io/cxx-abi/abi.html#mangling-special-ctor-dtor>. */
const comparable = (name: string): string => name.replace(/([CD])[1245](?=E)/, '$1');

const open = (built: BuiltIndex<unknown>): CodeIndex => {
  const opened = CodeIndex.open(writeIndexFile(built));
  if (!opened.ok) throw new Error(opened.problem.message);
  return opened.value;
};

async function indexOf(name: string, splits: readonly DwarfSections[] = []): Promise<CodeIndex> {
  const source = sourceOf(bytesOf(name));
  return open(name.startsWith('apple') ? await indexMachO(source) : await indexElf(source, { splits }));
}

/** In the words of the truth; a Mach-O symbol has an underscore in front there. */
const said = (index: CodeIndex, address: number): string[] => {
  const match = index.lookup(address);
  if (match.state === 'not-covered') return ['  0 0'];
  return match.frames.map(({ name, file, line, column }) => `${comparable(name ?? '')} ${file ?? ''} ${line ?? 0} ${column ?? 0}`);
};

/** Where a compiler wrote no full name, the truth has the bare one and ours the namespaces around it, too. */
const agrees = (ours: readonly string[], truth: readonly string[]): boolean =>
  ours.length === truth.length && ours.every((frame, index) => frame === truth[index] || frame.endsWith(`::${truth[index]}`));

function disagreements(index: CodeIndex, truth: readonly Answer[]): string[] {
  return truth.flatMap(({ from, to, frames }) =>
    [from, to].flatMap((address) => {
      const ours = said(index, address);
      return agrees(ours, frames) ? [] : [`${address.toString(16)}: ${ours.join(' < ')} instead of ${frames.join(' < ')}`];
    }),
  );
}

describe('every address of the code of', () => {
  const others = /universal|split|zdebug|apart|mini|stripped|folded|\.dwp$/;
  it.each(built.filter((name) => !others.test(name)))('%s has the functions, files and lines of the compiler suite', async (name) => {
    const truth = truthOf(name);
    const index = await indexOf(name);
    expect(truth.length).toBeGreaterThan(10);
    expect(index.summary.warnings).toEqual([]);
    expect(disagreements(index, truth)).toEqual([]);
  });

  it('a library whose sections are packed the old way reads as the unpacked one', async () => {
    expect(disagreements(await indexOf('gcc-x86_64-zdebug.so'), truthOf('gcc-x86_64-O2.so'))).toEqual([]);
  });

  it('a debug file kept apart reads as the library it came from, under the same build id as the stripped library', async () => {
    const apart = await indexOf('gcc-x86_64-apart.so.debug');
    expect(disagreements(apart, truthOf('gcc-x86_64-O2.so'))).toEqual([]);
    const stripped = await indexOf('gcc-x86_64-stripped.so');
    expect(stripped.summary).toMatchObject({ symbolId: apart.summary.symbolId, debugInformation: false });
  });

  it('a stripped library says where its debug information went', async () => {
    const bytes = bytesOf('gcc-x86_64-stripped.so');
    expect(await readDebugLink(sourceOf(bytes))).toBe('gcc-x86_64-apart.so.debug');
    // With its tables of symbols gone as well, nothing is left to name: the refusal hands the name of that file on.
    const header = new DataView(bytes.buffer);
    for (let section = 0; section < header.getUint16(60, true); section++) {
      const type = header.getUint32(40, true) + section * 64 + 4;
      if ([2, 11].includes(header.getUint32(type, true))) header.setUint32(type, 0, true);
    }
    const indexed = await indexSymbolFile(sourceOf(bytes), { fileName: 'library.so' });
    expect(indexed.ok ? '' : indexed.problem.message).toContain('upload that file');
  });

  it('a stripped library names its functions by the packed mini symbol table', async () => {
    const index = await indexOf('gcc-x86_64-mini.so');
    const full = await indexOf('gcc-x86_64-O2.so');
    expect(index.summary.debugInformation).toBe(false);
    for (const { from } of truthOf('gcc-x86_64-O2.so')) {
      const [mini, whole] = [index.lookup(from), full.lookup(from)];
      if (whole.state === 'not-covered') continue;
      // Nothing names the padding between functions.
      if (whole.frames.at(-1)?.name === null) continue;
      if (mini.state === 'not-covered') throw new Error(`nothing at ${from}`);
      expect(comparable(mini.frames[0]?.name ?? '')).toBe(comparable(whole.frames.at(-1)?.name ?? ''));
    }
  });

  it.each([4, 5])('an image and its package of split units, DWARF %i, reads like one file', async (version) => {
    const name = `clang-split${version}.so`;
    const warnings = new Warnings();
    const split = await readSplitFile(sourceOf(bytesOf(`${name}.dwp`)), warnings);
    expect(split.ids).toHaveLength(3);
    expect(warnings.list).toEqual([]);
    const whole = await indexOf(name, [split.sections]);
    expect(whole.summary.missingSplitUnitCount).toBe(0);
    expect(disagreements(whole, truthOf(name))).toEqual([]);
    const alone = await indexOf(name);
    expect([...alone.summary.missingSplitUnits].sort()).toEqual([...split.ids].sort());
    expect(alone.summary.lineRows).toBe(whole.summary.lineRows);
  });

  it('each slice of a universal file has its own UUID and answers', async () => {
    const slices = await slicesOf(sourceOf(bytesOf('apple-universal.dwarf')));
    const ids = new Set<string | null>();
    for (const slice of slices) {
      const index = open(await indexMachO(slice));
      const { architecture, symbolId } = index.summary;
      ids.add(symbolId);
      expect(disagreements(index, truthOf(`apple-universal.dwarf.${architecture}`))).toEqual([]);
      expect((await indexOf(`apple-${architecture}.dylib`)).summary.symbolId).toBe(symbolId);
    }
    expect(ids.size).toBe(2);
    expect(slices).toHaveLength(2);
  });

  it('functions that the linker folded into one has the name that debug information gives the code', async () => {
    const index = await indexOf('clang-x86_64-folded.so');
    const ownNames = new Set(truthOf('clang-x86_64-folded.so').flatMap(({ frames }) => frames.at(-1)?.split(' ')[0] ?? []));
    expect(ownNames).toContain('lark_loudness');
    const folded = (place: number) => said(index, place).at(-1);
    expect(folded(0x1ba0)).toMatch(/^_ZN4lark8loudnessEPKfm /);
    const withoutOwnName = (frames: readonly string[]) => [...frames.slice(0, -1), frames.at(-1)?.replace(/^\S+/, '') ?? ''];
    for (const { from, frames } of truthOf('clang-x86_64-folded.so'))
      expect(withoutOwnName(said(index, from))).toEqual(withoutOwnName(frames));
  });
});

describe('places between and outside of functions', () => {
  it('have no name: the symbol before is not stretched over them', async () => {
    const { lookup, summary } = await (async () => {
      const index = await indexOf('clang-x86_64-O2.so');
      return { lookup: (address: number) => index.lookup(address), summary: index.summary };
    })();
    expect(lookup(summary.base - 1)).toEqual({ state: 'not-covered' });
    expect(lookup(summary.base + 0x10_0000)).toEqual({ state: 'not-covered' });
    expect(lookup(0)).toEqual({ state: 'not-covered' });
    expect(lookup(2 ** 60)).toEqual({ state: 'not-covered' });
  });

  it('on 32-bit ARM an address with the thumb bit is the address without it', async () => {
    const index = await indexOf('clang-armv7-thumb.so');
    for (const { from } of truthOf('clang-armv7-thumb.so')) expect(said(index, from + 1)).toEqual(said(index, from));
  });

  it('a place in the file and a distance from where the image begins lead to the address that symbols count', async () => {
    const index = await indexOf('clang-arm64-O2.so');
    const segment = index.summary.segments.find(({ executable }) => executable);
    if (!segment) throw new Error('no code');
    expect(segment.address).not.toBe(segment.fileOffset);
    expect(index.addressOfFileOffset(segment.fileOffset + 0x10)).toBe(segment.address + 0x10);
    expect(index.addressOfFileOffset(2 ** 40)).toBeNull();
    expect(index.addressOfImageOffset(0x4700)).toBe(0x4700);
  });
});
