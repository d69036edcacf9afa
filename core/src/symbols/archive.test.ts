import { readFileSync } from 'node:fs';
import { Uint8ArrayReader, Uint8ArrayWriter, ZipWriter } from '@zip.js/zip.js';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { MalformedInput } from '../bytes/byte-reader.ts';
import { sourceOf } from '../bytes/byte-source.ts';
import { isZip, readArchive } from './archive.ts';

const dwarf = new Uint8Array(readFileSync(new URL('../../samples/binaries/built/apple-arm64.dwarf', import.meta.url)));

async function zipOf(files: Readonly<Record<string, Uint8Array>>): Promise<Uint8Array> {
  const writer = new ZipWriter(new Uint8ArrayWriter(), { useWebWorkers: false });
  for (const [path, bytes] of Object.entries(files)) await writer.add(path, new Uint8ArrayReader(bytes));
  return writer.close();
}

describe('an archive of symbol files', () => {
  it('gives its files as they were, without what a file system left in it', async () => {
    const zip = await zipOf({
      'App Symbols/Lark Song.framework.dSYM/Contents/Resources/DWARF/Lark Song': dwarf,
      '__MACOSX/App Symbols/._Lark Song': new Uint8Array(9),
      'App Symbols/.DS_Store': new Uint8Array(9),
      'notes.txt': new TextEncoder().encode('hello'),
    });
    expect(isZip(zip)).toBe(true);
    const entries = await readArchive(sourceOf(zip));
    expect(entries.map(({ path, sizeBytes }) => [path, sizeBytes])).toEqual([
      ['App Symbols/Lark Song.framework.dSYM/Contents/Resources/DWARF/Lark Song', dwarf.length],
      ['notes.txt', 5],
    ]);
    expect(Buffer.compare((await entries[0]?.read()) as Uint8Array, dwarf)).toBe(0);
  });

  it('that is cut off, is none, or holds an entry that unpacks to more than it says, is refused in words', async () => {
    const zip = await zipOf({ 'libsong.so': dwarf });
    await expect(readArchive(sourceOf(zip.slice(0, zip.length - 30)))).rejects.toThrow(MalformedInput);
    await expect(readArchive(sourceOf(new Uint8Array(100)))).rejects.toThrow('the archive cannot be read');
    const lying = zip.slice();
    const view = new DataView(lying.buffer);
    const directory = lying.lastIndexOf(0x02) - 3;
    for (let at = 0; at < lying.length - 46; at++) if (view.getUint32(at, true) === 0x02014b50) view.setUint32(at + 24, 1_000, true);
    expect(directory).toBeGreaterThan(0);
    const [entry] = await readArchive(sourceOf(lying));
    await expect(entry?.read()).rejects.toThrow(MalformedInput);
  });

  it('mutated gives files or a problem in words', async () => {
    const zip = await zipOf({ 'a.so': dwarf.slice(0, 3_000), 'b/mapping.txt': new TextEncoder().encode('a.B -> c:\n') });
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.tuple(fc.nat({ max: zip.length - 1 }), fc.nat({ max: 255 })), { minLength: 1, maxLength: 8 }),
        async (edits) => {
          const changed = zip.slice();
          for (const [at, value] of edits) changed[at] = value;
          try {
            for (const entry of await readArchive(sourceOf(changed))) await entry.read();
          } catch (error) {
            expect(error).toBeInstanceOf(MalformedInput);
          }
        },
      ),
      { numRuns: 300 },
    );
  });
});
