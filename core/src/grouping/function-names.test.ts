import { describe, expect, it } from 'vitest';
import type { ReadableFrame } from '../symbolicate/readable-report.ts';
import { readableFrame } from '../symbolicate/testing/readable-frame.ts';
import { functionNames } from './function-names.ts';

const frame = (runtime: ReadableFrame['runtime'], name: string, more: Partial<ReadableFrame> = {}) =>
  readableFrame(name, { runtime, ...more });
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
    ['jvm', 'com.larkfield.Bird$-CC.$default$greet', 'com.larkfield.Bird.greet'],
    ['jvm', 'com.larkfield.Visited$DefaultImpls.visit', 'com.larkfield.Visited.visit'],
    ['native', 'echo::sort(std::vector<int>)::$_0::operator()(int) const', 'echo::sort'],
    ['native', "echo::(anonymous namespace)::callback()::'lambda'(int)::operator()(int) const", 'echo::anonymous::callback'],
    ['native', 'echo::sort::{unnamed type}::operator()', 'echo::sort'],
    ['native', 'owls::listen::{{closure}}', 'owls::listen'],
    ['native', 'closure #1 in closure #2 in Tides.load()', 'Tides.load'],
    [
      'native',
      "std::_Function_handler<int (int), (anonymous namespace)::callback()::'lambda'(int)>::_M_invoke(std::_Any_data const&, int&&)",
      'anonymous::callback',
    ],
    ['javascript', 'readSeason.<anonymous>', 'readSeason'],
    ['javascript', 'get Shelf.first', 'first'],
    ['javascript', 'Rows.[Symbol.iterator]', '[Symbol.iterator]'],
    ['javascript', 'Kept.<static>', 'Kept.<static>'],
    ['javascript', 'Object.trim [as cut]', 'trim'],
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
    ['native', 'larkfield::requireField(char const*)', true],
    ['native', 'larkfield::requirements()', false],
    ['javascript', 'throwIfClosed', true],
    ['javascript', 'failures', false],
    ['jvm', 'com.larkfield.Ring.ensureOpen', true],
    ['jvm', 'com.larkfield.Ring.assertions', false],
    ['dotnet', 'Larkfield.Survey.Plot.EnsureOpen', true],
    ['javascript', 'invariant', true],
    ['javascript', 'asserts', true],
    ['dotnet', 'System.ThrowHelper.ThrowArgumentException', true],
    ['dotnet', 'Larkfield.Survey.Guardhouse.Open', false],
  ] as const)('%s %s: %s', (runtime, name, expected) =>
    expect(functionNames(frame(runtime, name)).reportsTrouble(frame(runtime, name))).toBe(expected),
  );
});

describe('frames that no other build or engine would have', () => {
  it.each([
    ['jvm', 'com.larkfield.Desk.accessor$Desk$lambda0', 'isCompilerMade'],
    ['jvm', 'com.larkfield.Desk$$ExternalSyntheticLambda3.run', 'isCompilerMade'],
    ['jvm', 'com.larkfield.Desk$$Lambda$14.apply', 'isCompilerMade'],
    ['javascript', '(top level)', 'isUnnamed'],
    ['javascript', '<anonymous>', 'isUnnamed'],
    ['javascript', 'Nest.<instance_members_initializer>', 'isUnnamed'],
    ['native', 'int std::__invoke_impl<int, echo::f()::$_0&>(std::__invoke_other, echo::f()::$_0&)', 'isLibrary'],
    ['native', 'void std::__1::sort<int*>(int*, int*)', 'isLibrary'],
    ['native', 'core::panicking::panic_fmt', 'isLibrary'],
    ['native', '<alloc::vec::Vec<T,A> as core::ops::index::Index<I>>::index', 'isLibrary'],
  ] as const)('%s %s: %s', (runtime, name, is) => {
    const one = frame(runtime, name);
    expect(functionNames(one)[is]?.(one)).toBe(true);
  });

  it.each([
    ['jvm', 'com.larkfield.Desk.lambda$all$0'],
    ['javascript', 'readSeason.<anonymous>'],
    ['native', 'larkfield::standard::measure(int)'],
    ['native', 'larkfield::take<std::vector<int>>(std::vector<int>&)'],
    ['native', '<larkfield::Nest as core::fmt::Display>::fmt'],
  ] as const)('but not %s %s', (runtime, name) => {
    const one = frame(runtime, name);
    const names = functionNames(one);
    expect([names.isCompilerMade(one), names.isUnnamed?.(one) ?? false, names.isLibrary?.(one) ?? false]).toEqual([false, false, false]);
  });

  it('are those of a header or a package, whatever their name', () => {
    const files = [
      '/usr/include/c++/12/bits/stl_algo.h',
      '/ndk/sysroot/usr/include/c++/v1/vector',
      '/rustc/9fc6b43/library/core/src/str.rs',
    ];
    for (const file of files) {
      const library = frame('native', 'helper', { file });
      expect(functionNames(library).isLibrary?.(library)).toBe(true);
    }
  });

  it('are methods that only call a default method which was moved out of its interface', () => {
    const moved = frame('jvm', 'com.larkfield.Bird$-CC.$default$greet');
    const caller = (name: string) => functionNames(moved).forwards?.(frame('jvm', name), moved);
    expect(caller('com.larkfield.Sparrow.greet')).toBe(true);
    expect(caller('com.larkfield.Sparrow.sing')).toBe(false);
    expect(functionNames(moved).forwards?.(frame('jvm', 'com.larkfield.Sparrow.greet'), frame('jvm', 'com.larkfield.Bird.greet'))).toBe(
      false,
    );
  });
});

it('titles are short', () => {
  const short = (runtime: ReadableFrame['runtime'], name: string) => functionNames(frame(runtime, name)).short(frame(runtime, name));
  expect(short('native', 'larkfield::audio::Spectrum::peak(float const*)')).toBe('Spectrum::peak');
  expect(short('dotnet', 'Larkfield.Survey.Store.Save')).toBe('Store.Save');
  expect(short('dart', 'TrailFile.parse')).toBe('TrailFile.parse');
});
