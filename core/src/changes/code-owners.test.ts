import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ownersOf, parseOwners } from './code-owners.ts';

const rules = parseOwners(`
# the whole
*                 @larkfield/all
*.java            @java-people   # and a remark
/map/             @wren tom@larkfield.example
docs/**           @writers
src/**/night      @night-owls
apps/*/list.kt    @lists
[Section]
with\\ space/x     @spaces
/map/generated/
`);

describe('code owners', () => {
  it.each([
    ['README', ['@larkfield/all']],
    ['a/b/C.java', ['@java-people']],
    ['map/NightMap.java', ['@wren', 'tom@larkfield.example']],
    ['x/map/NightMap.kt', ['@larkfield/all']],
    ['docs/a/b.md', ['@writers']],
    ['src/night/a.kt', ['@night-owls']],
    ['src/a/b/night', ['@night-owls']],
    ['apps/guide/list.kt', ['@lists']],
    ['apps/guide/more/list.kt', ['@larkfield/all']],
    ['with space/x', ['@spaces']],
    ['map/generated/Tiles.java', []],
  ] as const)('%s', (path, owners) => expect(ownersOf(rules, path)).toEqual(owners));

  it('are read of any text, in bounded time', () => {
    fc.assert(
      fc.property(fc.string({ unit: fc.constantFrom('*', '?', '/', 'a', '\\', '#', ' ', '\n', '[') }), fc.string(), (text, path) => {
        expect(Array.isArray(ownersOf(parseOwners(text), path))).toBe(true);
      }),
    );
    expect(ownersOf(parseOwners(`${'*a'.repeat(2_000)} @x`), 'a'.repeat(4_000))).toBeDefined();
    expect(ownersOf(parseOwners(`/${'**/'.repeat(500)}z @x`), 'a/'.repeat(1_000))).toEqual([]);
  });
});
