import { reportLimits } from '../limits.ts';
import type { FramesLeftOut } from '../report.ts';

interface Stack {
  frames?: unknown;
  framesLeftOut?: { readonly count: number } | undefined;
  crashed?: unknown;
}

const isStack = (value: unknown): value is Stack & { frames: unknown[] } =>
  typeof value === 'object' && value !== null && Array.isArray((value as Stack).frames);

/** Keeps both ends of a list, for what broke stands at one and who asked for it at the other. */
export function cutMiddle<Element>(all: readonly Element[], kept: number): { kept: Element[]; leftOut: FramesLeftOut | null } {
  if (all.length <= kept) return { kept: [...all], leftOut: null };
  const after = Math.ceil(kept / 2);
  return {
    kept: [...all.slice(0, after), ...all.slice(all.length - (kept - after))],
    leftOut: { after, count: all.length - kept },
  };
}

/**
 * Cuts stacks of a report that nobody checked down to the limits, in place: each one in its middle, and what is beyond the
 * frames of a whole report from the threads that did not crash. Gives how many frames went; each stack tells its own.
 */
export function cutStacks(
  report: { readonly exceptions?: unknown; readonly threads?: unknown },
  { framesPerStack, frames }: { framesPerStack: number; frames: number } = reportLimits,
): number {
  const exceptions = stacksOf(report.exceptions);
  const threads = stacksOf(report.threads);
  // The stacks that say what broke come first; the other threads share what is left.
  const first = [...exceptions, ...threads.filter((one) => one.crashed === true)];
  const others = threads.filter((one) => one.crashed !== true);
  let left = frames;
  let cut = 0;
  const cutTo = (stack: Stack & { frames: unknown[] }, most: number) => {
    const { kept, leftOut } = cutMiddle(stack.frames, most);
    left -= kept.length;
    if (!leftOut) return;
    stack.frames = kept;
    stack.framesLeftOut = { ...leftOut, count: leftOut.count + (stack.framesLeftOut?.count ?? 0) };
    cut += leftOut.count;
  };
  for (const stack of first) cutTo(stack, Math.min(framesPerStack, left));
  const common = commonLength(
    others.map(({ frames }) => frames.length),
    left,
  );
  for (const stack of others) cutTo(stack, Math.min(framesPerStack, common));
  return cut;
}

/** The length that all stacks are cut to so that they fit together: short ones leave what they do not need to the others. */
function commonLength(lengths: readonly number[], room: number): number {
  const ascending = [...lengths].sort((a, b) => a - b);
  let left = room;
  for (const [at, length] of ascending.entries()) {
    const share = Math.floor(left / (ascending.length - at));
    if (length > share) return share;
    left -= length;
  }
  return Number.POSITIVE_INFINITY;
}

const stacksOf = (list: unknown): (Stack & { frames: unknown[] })[] => (Array.isArray(list) ? list.filter(isStack) : []);
