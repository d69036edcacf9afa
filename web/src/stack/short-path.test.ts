import { expect, it } from 'vitest';
import { shortPath } from './short-path';

it.each([
  ['NightMap.kt', 'NightMap.kt'],
  ['src/map/tiles.ts', 'src/map/tiles.ts'],
  ['/home/build/guide/song/detector.cpp', '…/song/detector.cpp'],
  ['C:\\build\\survey\\Store.cs', '…/survey/Store.cs'],
  ['/larkfield/song/./song.hpp', '…/song/song.hpp'],
  ['webpack://feeder/./src/camera.js', '…/src/camera.js'],
])('%s is shown as %s', (path, shown) => expect(shortPath(path)).toBe(shown));
