import { describe, expect, it } from 'vitest';
import { readSourcePlaces, writeSourcePlaces } from './source-places';

describe('folders of sources', () => {
  it('are read a line each, with the revision behind an @', () => {
    expect(readSourcePlaces('guide @ v{version}\n\n my sources/{version} \nscope@4/a')).toEqual([
      { folder: 'guide', revision: 'v{version}' },
      { folder: 'my sources/{version}', revision: null },
      { folder: 'scope@4/a', revision: null },
    ]);
  });

  it('are written as they are read', () => {
    const text = 'guide @ v{version}\nother';
    expect(writeSourcePlaces(readSourcePlaces(text))).toBe(text);
  });
});
