import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { sourceOf } from '../bytes/byte-source.ts';
import { readCrashFile } from '../report/formats/crash-file.ts';
import type { FoundReport } from '../report/formats/found-report.ts';
import { frameSchema } from '../report/frames.ts';
import { sectionsOf } from '../symbols/index-file.ts';
import { indexSymbolFile } from '../symbols/index-symbol-file.ts';
import { openSymbolIndex } from '../symbols/open-index.ts';
import { sourceOfFiles, type TiedFile } from './file-set.ts';
import type { ReadableFrame } from './readable-report.ts';
import type { SymbolSource } from './symbol-source.ts';
import { symbolicate } from './symbolicate.ts';

const binary = (name: string) => new Uint8Array(readFileSync(new URL(`../../samples/binaries/built/${name}`, import.meta.url)));

async function filesOf(name: string, fileName: string, isOfBuild = false) {
  const indexed = await indexSymbolFile(sourceOf(binary(name)), { fileName });
  if (!indexed.ok) throw new Error(indexed.problem.message);
  return indexed.value.map(({ kind, symbolId, name: image, built }) => {
    const opened = openSymbolIndex(sectionsOf(built));
    if (!opened.ok) throw new Error(opened.problem.message);
    return { kind, symbolId, name: image, isOfBuild, opened: opened.value } satisfies TiedFile & { opened: unknown };
  });
}

const rule = { ours: [] };
const read = (text: string): FoundReport => {
  const found = readCrashFile(new TextEncoder().encode(text), { receivedAt: '2026-11-23T12:00:00Z' });
  if (!found.ok) throw new Error(found.problem.message);
  return found.value[0] as FoundReport;
};
const framesOf = (crash: FoundReport, source: SymbolSource): readonly ReadableFrame[] => {
  const readable = symbolicate(crash, source, rule);
  return readable.exceptions[0]?.frames ?? [];
};
const shown = ({ function: name, file, line, inlined, status }: ReadableFrame) =>
  `${inlined ? '  ' : ''}${name} ${file?.replace(/^.*\//, '') ?? '-'}:${line ?? '-'} ${status}`;

/** A tombstone as the system writes it; its addresses are those of the image, and already point at the calls. */
const tombstone = (frames: string): string => `*** *** *** *** *** *** *** *** *** *** *** *** *** *** *** ***
Build fingerprint: 'larkfield/kestrel/kestrel:14/UP1A/1:user/release-keys'
ABI: 'arm64'
pid: 4242, tid: 4260, name: song-worker  >>> com.larkfield.guide <<<
signal 5 (SIGTRAP), code 1 (TRAP_BRKPT), fault addr 0x0000007b2c1f4790
backtrace:
${frames}
`;

describe('frames of machine code on Android', () => {
  const path = '/data/app/~~Q/com.larkfield.guide-1/lib/arm64/libsong.so';

  it('are named by the library with their build id, calls inlined into them first', async () => {
    const files = await filesOf('clang-arm64-O2.so', 'libsong.so');
    const id = files[0]?.symbolId;
    const crash = read(
      tombstone(
        `      #00 pc 0000000000004818  ${path} (BuildId: ${id})\n      #01 pc 0000000000004718  ${path} (BuildId: ${id})\n      #02 pc 000000000008f0c4  /apex/com.android.runtime/lib64/bionic/libc.so (__pthread_start(void*)+208) (BuildId: aabbccdd)`,
      ),
    );
    const frames = framesOf(crash, sourceOfFiles(files));
    expect(frames.map(shown)).toMatchInlineSnapshot(`
      [
        "  float lark::smooth<3, float>(lark::Window<float> const&, unsigned long) song.hpp:27 resolved",
        "lark::Detector::find(lark::Window<float> const&) const song.cpp:39 resolved",
        "lark::Detector::Detector(float) song.hpp:44 resolved",
        "__pthread_start(void*) -:- as-written",
      ]
    `);
    expect(symbolicate(crash, sourceOfFiles(files), rule).needs).toEqual([{ kind: 'code', symbolId: id, name: 'libsong.so', found: true }]);
  });

  it('ask for the exact id when its file is missing; a file of another build is never taken', async () => {
    const decoy = await filesOf('clang-arm64-O3.so', 'libsong.so', true);
    const wanted = '00112233445566778899aabbccddeeff00112233';
    const crash = read(tombstone(`      #00 pc 0000000000004818  ${path} (BuildId: ${wanted})`));
    const readable = symbolicate(crash, sourceOfFiles(decoy), rule);
    expect(readable.exceptions[0]?.frames.map(shown)).toEqual(['libsong.so 0x4818 -:- no-symbols']);
    expect(readable.needs).toEqual([{ kind: 'code', symbolId: wanted, name: 'libsong.so', found: false }]);
  });

  it('without an id are tied by the build and the name of the library', async () => {
    const files = await filesOf('clang-arm64-O2.so', 'libsong.so', true);
    const crash = read(tombstone(`      #00 pc 0000000000004818  ${path}`));
    expect(framesOf(crash, sourceOfFiles(files))[0]?.status).toBe('resolved');
    const others = await filesOf('clang-arm64-O2.so', 'libother.so', true);
    expect(framesOf(crash, sourceOfFiles(others))[0]?.status).toBe('no-symbols');
  });

  it('at a place the file does not cover keep what the system printed', async () => {
    const files = await filesOf('clang-arm64-O2.so', 'libsong.so');
    const crash = read(tombstone(`      #00 pc 0000000000400000  ${path} (note+12) (BuildId: ${files[0]?.symbolId})`));
    expect(framesOf(crash, sourceOfFiles(files)).map(shown)).toEqual(['note -:- not-covered']);
  });
});

describe('frames of machine code on Apple systems', () => {
  const image = '/private/var/containers/Bundle/Application/A1/Guide.app/Frameworks/LarkSong.framework/LarkSong';
  const frame = (imageOffset: string, pointsAt: 'instruction' | 'after-call') =>
    frameSchema.parse({ runtime: 'native', address: '0x104354354', image, imageOffset, pointsAt });
  const nameOf = async (imageOffset: string, pointsAt: 'instruction' | 'after-call') => {
    const files = await filesOf('apple-arm64.dwarf', 'LarkSong');
    const images = [
      { name: image, symbolId: files[0]?.symbolId?.toUpperCase() ?? null, architecture: 'arm64', loadAddress: null, sizeBytes: null },
    ];
    const thread = {
      name: 'main',
      crashed: true,
      frames: [frame(imageOffset, pointsAt)],
      id: null,
      state: null,
      waitsFor: null,
      registers: {},
    };
    const readable = symbolicate({ exceptions: [], threads: [thread], images }, sourceOfFiles(files), rule);
    return readable.threads[0]?.frames.map(({ function: name }) => name);
  };

  // At 0x4350 lies a call that never returns, the last instruction of its function; 0x4354 begins the next function.
  it('behind a call that never returns belong to the function that made the call', async () => {
    const found = await nameOf('0x4354', 'after-call');
    expect(found?.at(-1)).toBe('lark::Detector::count(lark::Window<short> const&)');
    expect(found?.length).toBeGreaterThan(1);
  });

  it('that are the instruction itself are looked up as they are', async () => {
    expect(await nameOf('0x4354', 'instruction')).toEqual(['lark_count']);
  });
});

describe('symbol ids', () => {
  it.each([
    ['upper case and dashes', (id: string) => id.toUpperCase().replace(/^(.{8})(.{4})(.{4})(.{4})(.{12})$/, '$1-$2-$3-$4-$5')],
    ['an age behind it', (id: string) => `${id}0`],
    ['the byte order of a GUID', (id: string) => id.replace(/^(..)(..)(..)(..)(..)(..)(..)(..)/, '$4$3$2$1$6$5$8$7')],
  ])('are found in %s', async (_, spell) => {
    const files = await filesOf('apple-arm64.dwarf', 'LarkSong');
    const source = sourceOfFiles(files);
    const id = files[0]?.symbolId as string;
    expect(source.find('code', { symbolId: spell(id), name: null })).not.toBeNull();
    expect(source.find('code', { symbolId: spell(id.replace(/^./, (digit) => (digit === '0' ? '1' : '0'))), name: 'LarkSong' })).toBeNull();
  });
});
