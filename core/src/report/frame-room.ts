import type { Frame } from './frames.ts';
import { reportLimits } from './limits.ts';
import type { FramesLeftOut } from './report.ts';

/** A stack that grows within the limits, and what was cut out of its middle. */
export interface GrowingStack<Kept extends Frame = Frame> {
  readonly frames: Kept[];
  framesLeftOut?: FramesLeftOut | undefined;
}

/** In words, for whoever handed over the file. */
export const wordCutStacks = `stacks of more than ${reportLimits.framesPerStack} frames, or reports of more than ${reportLimits.frames}, are cut in the middle`;

/** The room that the frames of one report have, however many stacks they come in. */
export class FrameRoom {
  private taken = 0;

  /** Adds a frame; a stack without room loses one from its middle, for both ends count. False when one was lost. */
  push<Kept extends Frame>(stack: GrowingStack<Kept>, frame: Kept): boolean {
    const { frames } = stack;
    const hasRoom = frames.length < reportLimits.framesPerStack && this.taken < reportLimits.frames;
    const middle = Math.ceil(frames.length / 2);
    frames.push(frame);
    if (hasRoom) {
      this.taken++;
      return true;
    }
    frames.splice(middle, 1);
    const { after = middle, count = 0 } = stack.framesLeftOut ?? {};
    stack.framesLeftOut = { after, count: count + 1 };
    return false;
  }
}
