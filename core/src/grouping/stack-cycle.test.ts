import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { ReadableFrame, ReadableReport } from '../symbolicate/readable-report.ts';
import { readableFrame } from '../symbolicate/testing/readable-frame.ts';
import { bareContext, groupReport } from './group-report.ts';
import { ruleSet } from './rules/apply-rules.ts';

const frame = (name: string, runtime: ReadableFrame['runtime'] = 'jvm', ours = true) => readableFrame(name, { runtime, ours });
const report = (
  frames: readonly ReadableFrame[],
  type = 'java.lang.StackOverflowError',
  message: string | null = null,
): ReadableReport => ({
  exceptions: [{ type, message, relation: 'thrown', parent: null, frames, framesInCommon: 0 }],
  threads: [],
  needs: [],
});
const group = (frames: readonly ReadableFrame[], type?: string, message?: string | null) =>
  groupReport(bareContext('crash'), report(frames, type, message));

const round = ['com.larkfield.Tree.even', 'com.larkfield.Tree.odd', 'com.larkfield.Tree.either'];
/** A stack that goes round from one of the functions on, with what was called last above it. */
const endless = (from: number, length: number, above: readonly string[] = []) =>
  [...above, ...Array.from({ length }, (_, at) => round[(from + at) % round.length] as string)].map((name) => frame(name));

describe('a stack without room', () => {
  it('is known by the functions it goes round in, wherever it was cut', () => {
    const keys = [endless(0, 100), endless(1, 61), endless(2, 10), endless(1, 50, ['com.larkfield.Names.of'])].map((one) => group(one).key);
    expect(new Set(keys).size).toBe(1);
    const whole = group([...endless(0, 30), frame('com.larkfield.Main.start'), frame('com.larkfield.Main.main')]);
    expect(whole.key).toBe(keys[0]);
    expect(whole.explanation).toMatchObject({ basis: 'cycle' });
    expect(whole.explanation.skipped.filter(({ rule }) => rule === 'repeated').length).toBeGreaterThan(25);
    expect(whole.explanation.kept.map((one) => one.function)).toEqual([...round].sort());
  });

  it('is the same whichever of its functions begins, for any length', () => {
    const key = group(endless(0, 99)).key;
    fc.assert(fc.property(fc.nat(2), fc.integer({ min: 6, max: 400 }), (from, length) => group(endless(from, length)).key === key));
  });

  it('is one case over engines, each of which throws something else', () => {
    const frames = Array.from({ length: 40 }, (_, at) => frame(at % 2 === 0 ? 'depthOf' : 'heightOf', 'javascript'));
    const keys = [
      group(frames, 'RangeError', 'Maximum call stack size exceeded'),
      group(frames.slice(1), 'InternalError', 'too much recursion'),
      group(frames.slice(3, 13), 'RangeError', 'Maximum call stack size exceeded.'),
    ].map((one) => one.key);
    expect(new Set(keys).size).toBe(1);
  });

  it('is another case with other functions, and outside functions have no say', () => {
    const other = Array.from({ length: 40 }, () => frame('com.larkfield.Nest.weigh'));
    expect(group(other).key).not.toBe(group(endless(0, 40)).key);
    const between = endless(0, 40).flatMap((one) => [one, frame('java.util.ArrayList.forEach', 'jvm', false)]);
    expect(group(between).key).toBe(group(endless(0, 40)).key);
  });

  it('that goes round in nothing is grouped by its functions, as every stack', () => {
    const once = group([frame('com.larkfield.A.b'), frame('com.larkfield.C.d')]);
    expect(once.explanation.basis).toBe('our-frames');
  });

  it('of machine code is told by its length, since the signal says nothing', () => {
    const native = (length: number) => Array.from({ length }, (_, at) => frame(at % 2 === 0 ? 'echo::answer' : 'echo::echoOf', 'native'));
    expect(group(native(80), 'SIGSEGV', 'SEGV_MAPERR at 0x0').explanation.basis).toBe('cycle');
    expect(group(native(81).slice(1), 'EXC_BAD_ACCESS').key).toBe(group(native(60), 'SIGSEGV').key);
    expect(group([frame('echo::read', 'native'), frame('echo::scan', 'native'), ...native(80)], 'SIGSEGV').explanation.basis).toBe(
      'our-frames',
    );
    expect(group(native(8), 'SIGSEGV').explanation.basis).toBe('our-frames');
  });

  it('was grouped by its first functions before', () => {
    const before = groupReport(bareContext('crash'), report(endless(0, 40)), ruleSet([{ line: 1, verb: 'algorithm', algorithm: 1 }]));
    expect(before.explanation).toMatchObject({ basis: 'our-frames', algorithm: 1 });
  });
});
