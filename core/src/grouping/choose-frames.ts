import type { ReadableFrame } from '../symbolicate/readable-report.ts';
import { functionNames } from './function-names.ts';
import type { RuleSet } from './rules/apply-rules.ts';
import type { SkipRule } from './skip-rules.ts';

export interface KeptFrame {
  /** Position in the stack. */
  readonly frame: number;
  readonly function: string;
}

export interface SkippedFrame {
  readonly frame: number;
  readonly rule: SkipRule;
  /** Of the app's own rules. */
  readonly line?: number;
}

/** The frames of a stack that make a case what it is. */
export interface FrameChoice {
  readonly basis: 'our-frames' | 'outside-frames';
  readonly kept: readonly KeptFrame[];
  readonly skipped: readonly SkippedFrame[];
  /** Lines of the app's rules that had a say. */
  readonly lines: ReadonlySet<number>;
}

/** More frames would split one cause by its callers, fewer would merge causes that share a helper. */
const framesOfAKey = 3;

/** Chooses by our frames, and where there are none, by the outside ones. */
export function chooseFrames(frames: readonly ReadableFrame[], rules: RuleSet): FrameChoice {
  const ours = chooseAmong(frames, rules, { onlyOurs: true });
  if (ours.kept.length > 0) return { basis: 'our-frames', ...ours };
  return { basis: 'outside-frames', ...chooseAmong(frames, rules, { onlyOurs: false }) };
}

/** What did not count may have to, where nothing better stands on the stack: checks before what has no name. */
const lastResorts = ['reports-trouble', 'unnamed', 'compiler-made'] as const;

function chooseAmong(frames: readonly ReadableFrame[], rules: RuleSet, { onlyOurs }: { onlyOurs: boolean }): Omit<FrameChoice, 'basis'> {
  const { algorithm } = rules;
  const kept: KeptFrame[] = [];
  const skipped: SkippedFrame[] = [];
  const lines = new Set<number>();
  let stoppedBy: number | null = null;
  const decisive = algorithm === 1 ? frames.length : firstAsynchronous(frames, rules);
  frames.forEach((frame, index) => {
    const names = functionNames(frame, algorithm);
    const name = names.written(frame);
    const skip = (rule: SkipRule, line?: number) => skipped.push({ frame: index, rule, ...(line === undefined ? {} : { line }) });
    const { ours, rule } = rules.isOurs(frame);
    if (rule !== null) lines.add(rule);
    stoppedBy ??= rules.stops(frame);
    const skippedBy = rules.skips(frame);
    const callee = frames[index - 1];
    if (stoppedBy !== null) skip('rule', stoppedBy);
    else if (skippedBy !== null) skip('rule', skippedBy);
    else if (onlyOurs && (!ours || (rule === null && names.isLibrary?.(frame)))) skip('outside');
    else if (index >= decisive) skip('asynchronous');
    else if (kept.length === framesOfAKey) skip('enough-frames');
    else if (names.isCompilerMade(frame) || (callee && names.forwards?.(frame, callee))) skip('compiler-made');
    else if (names.isUnnamed?.(frame)) skip('unnamed');
    else if (kept.length === 0 && names.reportsTrouble(frame)) skip('reports-trouble');
    else if (kept.at(-1)?.function === name) skip('repeated');
    else kept.push({ frame: index, function: name });
  });
  for (const { line } of skipped) if (line !== undefined) lines.add(line);
  if (kept.length > 0) return { kept, skipped, lines };
  // A stack of nothing but checks is still told apart by them.
  const resort = lastResorts.find((one) => skipped.some(({ rule }) => rule === one));
  return {
    kept: skipped.flatMap(({ frame, rule }) =>
      rule === resort
        ? [{ frame, function: functionNames(frames[frame] as ReadableFrame, algorithm).written(frames[frame] as ReadableFrame) }]
        : [],
    ),
    skipped: skipped.filter(({ rule }) => rule !== resort),
    lines,
  };
}

/**
 * Where the calls end that every engine tells: what stands behind an await is there in one engine and not in the other. The first
 * frame that was reached so, when one of ours stands above it.
 */
function firstAsynchronous(frames: readonly ReadableFrame[], rules: RuleSet): number {
  const at = frames.findIndex((frame) => frame.asynchronous);
  return at > 0 && frames.slice(0, at).some((frame) => rules.isOurs(frame).ours) ? at : frames.length;
}
