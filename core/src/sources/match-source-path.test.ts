import fc from 'fast-check';
import { expect, it } from 'vitest';
import { matchSourcePath } from './match-source-path.ts';

const tree = [
  'app/src/main/java/com/larkfield/guide/map/Tiles.java',
  'app/src/main/java/com/larkfield/guide/net/Tiles.java',
  'app/src/debug/java/com/larkfield/guide/map/Preview.java',
  'native/src/song.cpp',
  'native/test/song.cpp',
  'lib/map.dart',
  'lib/src/map.dart',
  'README.md',
];
const find = (file: string, named = '') => matchSourcePath(tree, { file, function: named });

it.each([
  ['a file of a managed class, by its package', 'Tiles.java', 'com.larkfield.guide.net.Tiles.load', tree[1]],
  ['an inner class', 'Tiles.java', 'com.larkfield.guide.map.Tiles$Cache.get', tree[0]],
  ['a path of another machine', '/builds/7f3/guide/native/src/song.cpp', 'lark::listen', tree[3]],
  ['a path with drive and back strokes', 'C:\\guide\\native\\test\\song.cpp', 'main', tree[4]],
  ['a package address', 'package:trails/src/map.dart', 'MapView.build', tree[6]],
  ['a name that is there once', 'Preview.java', 'a.b.c', tree[2]],
])('finds %s', (_, file, named, path) => {
  expect(find(file, named)).toEqual({ path });
});

it('says when nothing decides, rather than show another file', () => {
  expect(find('song.cpp', 'lark::listen')).toBe('several');
  expect(find('Tiles.java', 'Tiles.load')).toBe('several');
  expect(find('Perch.java', 'com.larkfield.guide.map.Perch.sit')).toBe('none');
  expect(find('', '')).toBe('none');
});

it('finds every file by its whole path, whatever stands before it', () => {
  fc.assert(
    fc.property(fc.constantFrom(...tree), fc.array(fc.stringMatching(/^[a-z]{1,6}$/)), (path, before) => {
      expect(find(`/${[...before, path].join('/')}`)).toEqual({ path });
    }),
  );
});
