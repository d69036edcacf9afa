import { describe, expect, it } from 'vitest';
import type { ReadableFrame } from '../symbolicate/readable-report.ts';
import { functionNames } from './function-names.ts';

const frame = (runtime: ReadableFrame['runtime'], name: string, more: Partial<ReadableFrame> = {}): ReadableFrame => ({
  runtime,
  function: name,
  file: null,
  line: null,
  column: null,
  inlined: false,
  ours: true,
  status: 'as-written',
  raw: name,
  rawIndex: 0,
  ...more,
});
const written = (runtime: ReadableFrame['runtime'], name: string) => functionNames(frame(runtime, name)).written(frame(runtime, name));

describe('the name a function is grouped by', () => {
  it.each([
    ['native', 'larkfield::Spectrum::peak(float const*, unsigned long) const', 'larkfield::Spectrum::peak'],
    ['native', 'std::vector<float, std::allocator<float>>::at(unsigned long)', 'std::vector::at'],
    ['native', 'larkfield::(anonymous namespace)::window(std::vector<float>&)', 'larkfield::anonymous::window'],
    ['native', 'void larkfield::apply<int>(int)', 'larkfield::apply'],
    ['native', '-[SightingList rowAt:]', '-[SightingList rowAt:]'],
    ['native', 'Larkfield Guide 0x4010', 'Larkfield Guide 0x4010'],
    ['javascript', 'Object.callback', 'callback'],
    ['javascript', 'Clip.prototype.trim', 'trim'],
    ['javascript', 'new Feeder', 'Feeder'],
    ['javascript', 'openFeed/<', 'openFeed'],
    ['dart', 'TrailList.load.<anonymous closure>', 'TrailList.load'],
    ['dart', 'new Trail', 'Trail'],
    ['dotnet', 'Larkfield.Survey.Store.LoadAsync', 'Larkfield.Survey.Store.LoadAsync'],
    ['jvm', 'com.larkfield.guide.Tides$load$2.invokeSuspend', 'com.larkfield.guide.Tides.load'],
  ] as const)('of %s %s is %s', (runtime, name, expected) => expect(written(runtime, name)).toBe(expected));

  it('is the same in whichever engine ran the script', () => {
    expect(new Set(['Clip.trim', 'Clip.prototype.trim', 'trim', 'async trim'].map((name) => written('javascript', name)))).toEqual(
      new Set(['trim']),
    );
  });
});

describe('functions that only report trouble', () => {
  it.each([
    ['native', 'abort', true],
    ['native', '__pthread_kill', true],
    ['native', 'objc_exception_throw', true],
    ['native', 'std::terminate()', true],
    ['native', 'larkfield::abortUpload()', false],
    ['javascript', 'invariant', true],
    ['javascript', 'asserts', true],
    ['dotnet', 'System.ThrowHelper.ThrowArgumentException', true],
    ['dotnet', 'Larkfield.Survey.Guardhouse.Open', false],
  ] as const)('%s %s: %s', (runtime, name, expected) =>
    expect(functionNames(frame(runtime, name)).reportsTrouble(frame(runtime, name))).toBe(expected),
  );
});

it('titles are short', () => {
  const short = (runtime: ReadableFrame['runtime'], name: string) => functionNames(frame(runtime, name)).short(frame(runtime, name));
  expect(short('native', 'larkfield::audio::Spectrum::peak(float const*)')).toBe('Spectrum::peak');
  expect(short('dotnet', 'Larkfield.Survey.Store.Save')).toBe('Store.Save');
  expect(short('dart', 'TrailFile.parse')).toBe('TrailFile.parse');
});
