import type { ReadableFrame } from '@rough-ember/core/symbolicate/readable-report';
import { readableFrame } from '@rough-ember/core/symbolicate/testing/readable-frame';
import { describe, expect, it } from 'vitest';
import { foldFrames, splitPackage } from './fold-frames';

const frame = (name: string, ours: boolean) => readableFrame(name, { ours });
const ours = frame('com.larkfield.A.go', true);
const list = frame('java.util.List.of', false);
const thread = frame('java.lang.Thread.run', false);

const shape = (frames: ReadableFrame[], inCommon = 0, leftOut?: { after: number; count: number }) =>
  foldFrames(frames, inCommon, leftOut).map((piece) =>
    piece.type === 'frame' ? piece.frame.function : `${piece.type} ${piece.type === 'left-out' ? piece.count : piece.frames.length}`,
  );

describe('folding', () => {
  it('folds runs of outside frames and leaves a single one open', () =>
    expect(shape([list, thread, ours, list, ours, thread, thread, list])).toEqual([
      'fold 2',
      ours.function,
      list.function,
      ours.function,
      'fold 3',
    ]));
  it('names each package once, in order', () => {
    const [piece] = foldFrames([list, thread, list], 0);
    expect(piece?.type === 'fold' && piece.packages).toEqual(['java.util', 'java.lang']);
  });
  it('puts what a cause shares with its parent in one line at the end', () =>
    expect(shape([ours, list, ours, thread], 2)).toEqual([ours.function, list.function, 'common 2']));
  it('says where a stack was cut, between frames that are folded too', () => {
    const numbered = [ours, list, list, list, list, ours].map((one, rawIndex) => ({ ...one, rawIndex }));
    expect(shape(numbered, 0, { after: 3, count: 900 })).toEqual([ours.function, 'fold 2', 'left-out 900', 'fold 2', ours.function]);
  });
  it('shows nothing of an empty stack', () => expect(shape([])).toEqual([]));
});

describe('a function name', () => {
  it.each([
    ['com.larkfield.map.NightMap.tileFor', 'com.larkfield.map.', 'NightMap.tileFor'],
    ['NightMap.tileFor', '', 'NightMap.tileFor'],
    ['main', '', 'main'],
  ])('%s is split before its class', (name, before, local) => expect(splitPackage(name)).toEqual({ package: before, local }));
});
