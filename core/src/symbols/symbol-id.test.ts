import { describe, expect, it } from 'vitest';
import { chooseFile } from '../symbolicate/file-set.ts';
import { isWantedId, symbolKey, wantedKeys } from './symbol-id.ts';

const hash = '3f1c0a9be2d7685f4c3b2a19081726354f5e6d7c8b9a0f1e2d3c4b5a69788796';

describe('the id of a mapping', () => {
  it.each([
    [hash, hash, true],
    ['3f1c0a9', hash, true],
    [hash, '3F1C0A9', true],
    ['3f1c0a9be2d7', '3f1c0a9', true],
    ['3f1c0a9be2d8', hash, false],
    ['3f1c0', hash, false],
    ['release 7', 'release 7', true],
  ])('%s is met by %s: %s', (printed, id, isWanted) => {
    expect(isWantedId('mapping', printed, id)).toBe(isWanted);
    // What is wanted is also found where files are looked up by key.
    if (isWanted) expect(wantedKeys('mapping', printed)).toContain(symbolKey('mapping', id));
  });

  it('chooses among several, and a mapping without an id serves its own build', () => {
    const file = (symbolId: string | null, isOfBuild = false) => ({ kind: 'mapping', symbolId, name: null, isOfBuild }) as const;
    const files = [file('aaaaaaa', true), file(hash)];
    expect(chooseFile(files, 'mapping', { symbolId: '3f1c0a9', name: null })).toBe(files[1]);
    expect(chooseFile(files, 'mapping', { symbolId: 'bbbbbbb', name: null })).toBeNull();
    const headless = file(null, true);
    expect(chooseFile([headless], 'mapping', { symbolId: 'bbbbbbb', name: null })).toBe(headless);
    expect(chooseFile([file(null)], 'mapping', { symbolId: 'bbbbbbb', name: null })).toBeNull();
  });
});

describe('the id of machine code', () => {
  it('is the same with and without age, dashes and the byte order of a GUID', () => {
    const id = '0011223344556677 8899aabbccddeeff'.replace(' ', '');
    for (const printed of [id.toUpperCase(), `${id}1`, '33221100-5544-7766-8899-aabbccddeeff'])
      expect(isWantedId('code', printed, id)).toBe(true);
    expect(isWantedId('code', '0011223', id)).toBe(false);
  });
});
