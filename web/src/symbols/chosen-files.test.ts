import { readFileSync } from 'node:fs';
import { BlobReader, BlobWriter, TextReader, ZipWriter } from '@zip.js/zip.js';
import { describe, expect, it } from 'vitest';
import { lookAt } from './chosen-files';

const mapping = 'com.larkfield.guide.Map -> a:\n    12:12:void open() -> a\n';
const sourceMap = JSON.stringify({ version: 3, sources: ['a.ts'], names: [], mappings: 'AAAA' });
const dwarf = new Uint8Array(readFileSync(new URL('../../../core/samples/dotnet-symbols/Survey.pdb', import.meta.url)));
const file = (name: string, content: BlobPart) => new File([content], name);

async function archive(name: string, entries: Readonly<Record<string, BlobPart>>): Promise<File> {
  const zip = new ZipWriter(new BlobWriter());
  for (const [path, content] of Object.entries(entries))
    await zip.add(path, typeof content === 'string' ? new TextReader(content) : new BlobReader(new Blob([content])));
  return file(name, await zip.close());
}
const seen = async (...files: File[]) => {
  const { files: found, passedOver } = await lookAt(files);
  return { found: found.map((one) => [one.file.name, one.format, one.needsBuild]), passedOver };
};

describe('files that a person chose', () => {
  it('are told apart by what is in them, whatever they are called', async () => {
    expect(
      await seen(file('notes.txt', mapping), file('index.js.map', sourceMap), file('App.bin', dwarf), file('names.json', '["Map","a"]')),
    ).toEqual({
      found: [
        ['notes.txt', 'mapping', true],
        ['index.js.map', 'sourcemap', true],
        ['App.bin', 'portable-pdb', false],
        ['names.json', 'obfuscation-map', true],
      ],
      passedOver: [],
    });
  });

  it('that are none are passed over with a reason', async () => {
    const { found, passedOver } = await seen(file('icon.png', Uint8Array.from([0x89, 0x50, 0x4e, 0x47, 13, 10])), file('empty', ''));
    expect(found).toEqual([]);
    expect(passedOver.map(({ name }) => name)).toEqual(['icon.png', 'empty']);
    expect(passedOver[0]?.reason).toContain('PNG picture');
  });

  it('in archives are found, but no JSON that only looks like a map', async () => {
    const zip = await archive('build.zip', {
      'app/mapping.txt': mapping,
      'app/index.js.map': sourceMap,
      'app/package.json': sourceMap,
      'app/script.js': sourceMap,
      'app/obfuscation-map.json': '["Map","a"]',
      'app/names.json': '["Map","a"]',
      'app/readme.md': 'hello',
    });
    const { found, passedOver } = await seen(zip);
    expect(found).toEqual([
      ['mapping.txt', 'mapping', true],
      ['index.js.map', 'sourcemap', true],
      ['obfuscation-map.json', 'obfuscation-map', true],
    ]);
    expect(passedOver).toEqual([]);
  });

  it('of one name from two archives are two', async () => {
    const { files } = await lookAt([
      await archive('a.zip', { 'mapping.txt': mapping }),
      await archive('b.zip', { 'mapping.txt': mapping }),
    ]);
    expect(new Set(files.map((one) => one.key)).size).toBe(2);
  });

  it('in archives without a symbol file, or that are damaged, are none', async () => {
    const good = new Uint8Array(await (await archive('whole.zip', { 'mapping.txt': mapping })).arrayBuffer());
    const { found, passedOver } = await seen(
      await archive('notes.zip', { 'readme.md': 'hello' }),
      file('cut.zip', good.slice(0, good.length - 10)),
    );
    expect(found).toEqual([]);
    expect(passedOver[0]).toEqual({ name: 'notes.zip', reason: 'There is no symbol file in this archive.' });
    expect(passedOver[1]).toMatchObject({ name: 'cut.zip', reason: expect.stringMatching(/.+\.$/) });
  });
});
