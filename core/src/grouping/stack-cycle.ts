import type { ReadableException, ReadableFrame } from '../symbolicate/readable-report.ts';
import type { KeptFrame } from './choose-frames.ts';
import { functionNames } from './function-names.ts';
import type { RuleSet } from './rules/apply-rules.ts';

/** What runtimes throw when a stack has no room left. */
const overflowType = /(?:^|\.)(?:StackOverflow(?:Error|Exception)?|RecursionError)$/;
const overflowMessage = /^(?:Maximum call stack size exceeded|too much recursion|Stack Overflow\b|stack overflow\b)/i;

/** Whether an exception is that of a stack without room; each engine of scripts has another type for it. */
export const isStackOverflow = (exception: Pick<ReadableException, 'type' | 'message'> | undefined): boolean =>
  exception !== undefined && (overflowType.test(exception.type) || overflowMessage.test(exception.message ?? ''));

/** Machine code is stopped by a signal like any other: so many frames of one cycle in a row, or more, are told to be endless. */
const endlessFrames = 40;
/** A function counts to the cycle when it stands there this often, measured by the one that stands there most. */
const leastShare = 0.2;

/**
 * The functions of ours that a stack goes round in, in the order of their names: the same wherever the stack was cut and whichever
 * of them found no room. Empty when it goes round in none.
 *
 * @param isTold the runtime said that the stack overflowed, so that little of a cycle is enough.
 */
export function stackCycle(frames: readonly ReadableFrame[], rules: RuleSet, isTold: boolean): KeptFrame[] {
  const named: KeptFrame[] = [];
  frames.forEach((frame, index) => {
    const names = functionNames(frame, rules.algorithm);
    const { ours } = rules.isOurs(frame);
    if (!ours || names.isLibrary?.(frame) || names.isCompilerMade(frame) || names.isUnnamed?.(frame)) return;
    if (rules.skips(frame) === null) named.push({ frame: index, function: names.written(frame) });
  });
  const counts = new Map<string, number>();
  for (const one of named) counts.set(one.function, (counts.get(one.function) ?? 0) + 1);
  const most = Math.max(0, ...counts.values());
  const isInCycle = ({ function: name }: KeptFrame) => (counts.get(name) ?? 0) >= Math.max(2, leastShare * most);
  const begin = named.findIndex(isInCycle);
  if (begin < 0) return [];
  const end = named.findIndex((one, at) => at > begin && !isInCycle(one));
  const length = (end < 0 ? named.length : end) - begin;
  if (!isTold && (begin > 1 || length < endlessFrames)) return [];
  const cycle = new Map<string, KeptFrame>();
  for (const one of named.slice(begin)) if (isInCycle(one) && !cycle.has(one.function)) cycle.set(one.function, one);
  return [...cycle.values()].sort((one, other) => (one.function < other.function ? -1 : 1));
}
