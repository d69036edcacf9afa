import { describe, expect, it } from 'vitest';
import { commitFormat, parseCommits } from './commit-log.ts';
import { functionRange, plainFunctionName } from './function-range.ts';
import { type FrameChanges, rankChanges } from './rank-changes.ts';

const hash = (letter: string) => letter.repeat(40);
const commit = (letter: string, day: number, paths: string[] = []) => ({
  hash: hash(letter),
  authorName: 'Wren',
  authorEmail: 'wren@larkfield.example',
  at: `2026-11-${String(day).padStart(2, '0')}T10:00:00Z`,
  subject: `Change ${letter}`,
  paths,
});
const frame = (over: Partial<FrameChanges> = {}): FrameChanges => ({
  depth: 0,
  function: 'NightMap.tileFor',
  path: 'map/NightMap.java',
  changedFunction: [],
  changedLine: null,
  ...over,
});

describe('what git tells of commits', () => {
  it('is read field by field, whatever stands in them', () => {
    const printed = commitFormat
      .replace('%x1e', '\x1e')
      .replaceAll('%x00', '\0')
      .replace('%H', hash('a'))
      .replace('%an', 'Wren | "the" bird')
      .replace('%ae', 'Wren@Larkfield.example')
      .replace('%aI', '2026-11-02T10:00:00+01:00')
      .replace('%s', 'Take tiles\tfrom the cache');
    expect(parseCommits(`${printed}\0\nmap/Night Map.java\0ümläut.kt\0`)).toEqual([
      {
        hash: hash('a'),
        authorName: 'Wren | "the" bird',
        authorEmail: 'wren@larkfield.example',
        at: '2026-11-02T10:00:00+01:00',
        subject: 'Take tiles\tfrom the cache',
        paths: ['map/Night Map.java', 'ümläut.kt'],
      },
    ]);
    expect(parseCommits('')).toEqual([]);
    expect(parseCommits(`${printed.slice(0, 30)}\x1enonsense\0\0\0`)).toEqual([]);
  });
});

describe('the lines of a function', () => {
  const java = `class NightMap {
    NightMap() {
        tileFor(1);
    }

    String tileFor(int zoom) {
        String tile = cache.peek(zoom);

        return tile;
    }

    int key() { return 1; }
}`;
  it('are found in a language with brackets', () => {
    expect(functionRange(java, 'com.larkfield.NightMap.tileFor', 9)).toEqual({ first: 6, last: 10 });
    expect(functionRange(java, 'com.larkfield.NightMap.tileFor', 7)).toEqual({ first: 6, last: 10 });
    expect(functionRange(java, 'com.larkfield.NightMap.key', 12)).toEqual({ first: 12, last: 12 });
    expect(functionRange(java, 'com.larkfield.NightMap.other', 9)).toBeNull();
  });
  it('are found where the body opens on a line of its own, and where there are no brackets', () => {
    const cpp = 'namespace lark\n{\nint Song::find(int at)\n{\n    return at;\n}\n\nint more() {}\n';
    expect(functionRange(cpp, 'lark::Song::find(int)', 5)).toEqual({ first: 3, last: 6 });
    const python = 'def find(at):\n    x = 1\n\n    return x\n\ndef more():\n    pass\n';
    expect(functionRange(python, 'find', 4)).toEqual({ first: 1, last: 5 });
  });
  it.each([
    ['com.larkfield.NightMap.tileFor', 'tileFor'],
    ['com.larkfield.NightMap$Cursor.at$1', 'at'],
    ['lark::Song::find(std::vector<int> const&)', 'find'],
    ['NightMap.tileFor<String>', 'tileFor'],
    ['', ''],
  ])('%s is called %s', (qualified, name) => expect(plainFunctionName(qualified)).toBe(name));
});

describe('the likely change', () => {
  const about = { version: '4.3.0', cameOutAt: '2026-11-12T10:00:00Z' };
  it('is the one that changed the very line, then the function, then the file', () => {
    const commits = [
      commit('d', 11, ['README.md']),
      commit('c', 10, ['map/NightMap.java']),
      commit('b', 9, ['map/NightMap.java']),
      commit('a', 8, ['map/NightMap.java']),
    ];
    const found = rankChanges(commits, [frame({ changedFunction: [hash('b'), hash('a')], changedLine: hash('a') })], about);
    expect(found.map((one) => [one.hash[0], one.reason])).toEqual([
      ['a', 'changed the very line of NightMap.tileFor, 4 days before 4.3.0 came out'],
      ['b', 'changed NightMap.tileFor, 3 days before 4.3.0 came out'],
      ['c', 'changed NightMap.java, where NightMap.tileFor is, 2 days before 4.3.0 came out'],
    ]);
  });
  it('is nearer the culprit before farther from it, and of equal ones the later', () => {
    const far = frame({ depth: 3, function: 'MapScreen.draw', path: 'map/MapScreen.java', changedFunction: [hash('a')] });
    const near = frame({ changedFunction: [hash('b'), hash('c')] });
    expect(rankChanges([commit('a', 11), commit('b', 9), commit('c', 10)], [near, far], about).map((one) => one.hash[0])).toEqual([
      'c',
      'b',
      'a',
    ]);
  });
  it('says nothing of commits that touched none of it', () =>
    expect(rankChanges([commit('a', 11, ['README.md'])], [frame()], about)).toEqual([]));
});
