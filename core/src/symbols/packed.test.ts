import { readFileSync } from 'node:fs';
import { gzipSync } from 'node:zlib';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { sourceOf } from '../bytes/byte-source.ts';
import { unpackGzip } from '../bytes/unpack.ts';
import { detectSymbolFile } from './detect.ts';
import { indexSymbolFile } from './index-symbol-file.ts';

const sample = (path: string) => new Uint8Array(readFileSync(new URL(`../../samples/${path}`, import.meta.url)));
const files = {
  'mapping.txt': sample('jvm-messages/ringing.mapping'),
  'libsong.so': sample('binaries/built/clang-arm64-O2.so'),
  'es5.js.map': sample('script-functions/built/es5.js.map'),
  'Survey.pdb': sample('dotnet-symbols/Survey.pdb'),
  'Survey.dll': sample('dotnet-symbols/Survey.dll'),
};
const index = async (fileName: string, bytes: Uint8Array) => {
  const indexed = await indexSymbolFile(sourceOf(bytes), { fileName });
  return indexed.ok
    ? indexed.value.map(({ kind, name, symbolId, built }) => ({ kind, name, symbolId, summary: built.summary }))
    : indexed.problem;
};

describe('a symbol file that is packed with gzip', () => {
  it.each(Object.entries(files))('gives what %s gives', async (name, bytes) => {
    const packed = new Uint8Array(gzipSync(bytes));
    expect(await detectSymbolFile(packed.subarray(0, 64 * 1024), `${name}.gz`)).toEqual(
      await detectSymbolFile(bytes.subarray(0, 64 * 1024), name),
    );
    expect(await index(`${name}.gz`, packed)).toEqual(await index(name, bytes));
  });

  it('is refused when it is cut off or damaged, and when what it holds is none', async () => {
    const packed = new Uint8Array(gzipSync(files['libsong.so']));
    expect(await index('libsong.so.gz', packed.subarray(0, packed.length - 100))).toMatchObject({ code: 'damaged-symbol-file' });
    expect(await index('notes.txt.gz', new Uint8Array(gzipSync('some notes')))).toMatchObject({ code: 'not-a-symbol-file' });
    expect(await index('empty.gz', new Uint8Array(gzipSync('')))).toMatchObject({ code: 'not-a-symbol-file' });
    await fc.assert(
      fc.asyncProperty(fc.integer({ min: 3, max: packed.length - 1 }), fc.integer({ min: 1, max: 255 }), async (at, change) => {
        const altered = packed.slice();
        altered[at] = (altered[at] as number) ^ change;
        await index('libsong.so.gz', altered);
      }),
      { numRuns: 60 },
    );
  });

  it('is refused when it unpacks to far more than a symbol file would', async () => {
    const bomb = new Uint8Array(gzipSync(Buffer.concat([Buffer.from('a.B -> c:\n'), Buffer.alloc(100_000_000, 10)])));
    expect(await index('mapping.txt.gz', bomb)).toMatchObject({
      code: 'damaged-symbol-file',
      message: expect.stringContaining('unpacks to more than'),
    });
  });

  it('never unpacks to more than it may', async () => {
    const bomb = new Uint8Array(gzipSync(new Uint8Array(50_000_000)));
    await expect(unpackGzip(sourceOf(bomb), 1_000_000)).rejects.toThrow('more than 1000000 bytes');
  });
});

describe('a script that holds its source map', () => {
  const map = files['es5.js.map'];
  const script = (comment: string) => new TextEncoder().encode(`(function(){"//# sourceMappingURL=x"})();\n${comment}\n`);
  const base64 = Buffer.from(map).toString('base64');

  it.each([
    ['in base64', `//# sourceMappingURL=data:application/json;charset=utf-8;base64,${base64}`],
    ['in the older spelling', `//@ sourceMappingURL=data:application/json;base64,${base64}`],
    ['percent-encoded', `//# sourceMappingURL=data:application/json,${encodeURIComponent(new TextDecoder().decode(map))}`],
  ])('%s is read like the map itself', async (_, comment) => {
    const [part] = (await index('feeder.js', script(comment))) as { summary: unknown }[];
    const [alone] = (await index('es5.js.map', map)) as { summary: unknown }[];
    expect(part).toEqual({ ...alone, name: 'feeder.js' });
    expect(await index('feeder.bundle.gz', new Uint8Array(gzipSync(script(comment))))).toMatchObject([
      { kind: 'sourcemap', name: 'feeder.bundle' },
    ]);
  });

  it.each([
    ['', 'build it with source maps'],
    ['//# sourceMappingURL=feeder.js.map', 'its map is in "feeder.js.map"'],
    ['//# sourceMappingURL=data:application/json;base64,%%%', 'is damaged'],
    ['//# sourceMappingURL=data:application/json;base64,e30=', 'neither "mappings" nor "sections"'],
  ])('or does not, with %j, is refused with the reason', async (comment, reason) => {
    const problem = (await index('feeder.js', new TextEncoder().encode(`go();\n${comment}\n`))) as { message: string };
    expect(problem.message).toContain(reason);
  });
});
