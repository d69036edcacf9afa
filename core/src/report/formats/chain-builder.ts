import { FrameRoom, type GrowingStack, wordCutStacks } from '../frame-room.ts';
import type { Frame } from '../frames.ts';
import { reportLimits } from '../limits.ts';
import { printable } from '../printable.ts';
import type { ReportedException, ReportedThread } from '../report.ts';
import { withWrittenLine, writtenLine } from '../written-line.ts';

/** Collects the exceptions and further stacks of one report within the limits, and notes what did not fit. */
export class ChainBuilder {
  readonly exceptions: ReportedException[] = [];
  readonly threads: ReportedThread[] = [];
  private readonly room = new FrameRoom();
  private readonly remarks = new Set<string>();

  get notes(): string[] {
    return [...this.remarks];
  }

  note(remark: string): void {
    this.remarks.add(remark);
  }

  /** Begins an exception and gives its index; beyond the limit it is noted and null comes back. */
  begin(
    { type, message }: { type: string; message: string | null },
    relation: ReportedException['relation'] = 'thrown',
    parent: number | null = null,
  ): number | null {
    if (this.exceptions.length >= reportLimits.exceptions) {
      this.note(`exceptions beyond ${reportLimits.exceptions} were left out`);
      return null;
    }
    this.exceptions.push({
      type: printable(type).slice(0, reportLimits.nameCharacters) || 'unknown',
      message: message === null ? null : printable(message).slice(0, reportLimits.messageCharacters),
      relation,
      parent,
      frames: [],
      framesInCommon: 0,
      stack: null,
    });
    return this.exceptions.length - 1;
  }

  /** Adds a thread that has a stack of its own, within the limits. */
  thread(thread: Omit<ReportedThread, 'frames'>, frames: Iterable<Frame>): void {
    if (this.threads.length >= reportLimits.threads) {
      this.note(`threads beyond ${reportLimits.threads} were left out`);
      return;
    }
    const kept: GrowingStack = { frames: [] };
    for (const frame of frames) this.add(kept, frame);
    this.threads.push({ ...thread, name: printable(thread.name).slice(0, reportLimits.nameCharacters), ...kept });
  }

  /** Adds a frame to an exception's stack; a stack that grows too long loses frames from its middle. */
  frame(exception: number | null, frame: Frame): void {
    const target = exception === null ? undefined : this.exceptions[exception];
    if (target) this.add(target, frame);
  }

  /** Lines that were taken for frames belong to the message, and the frames are still to come. */
  takeIntoMessage(exception: number, lines: readonly string[]): void {
    const target = this.exceptions[exception];
    if (!target) return;
    const message = [...(target.message === null ? [] : [target.message]), ...lines].join('\n').slice(0, reportLimits.messageCharacters);
    this.exceptions[exception] = { ...target, message: printable(message), frames: [] };
  }

  /** Says that the runtime itself left out frames behind those that an exception has so far. */
  leaveOut(exception: number, count: number): void {
    const target = this.exceptions[exception] as GrowingStack | undefined;
    if (target) target.framesLeftOut ??= { after: target.frames.length, count };
  }

  private add(stack: GrowingStack, frame: Frame): void {
    if (!this.room.push(stack, clip(frame))) this.note(wordCutStacks);
  }
}

/** Names longer than the limit are cut; a frame's texts come from files that nobody checked. */
function clip<Kind extends Frame>(frame: Kind): Kind {
  let clipped: Record<string, unknown> | null = null;
  for (const [field, value] of Object.entries(frame))
    if (typeof value === 'string' && value.length > reportLimits.nameCharacters) {
      clipped ??= { ...frame };
      clipped[field] = value.slice(0, reportLimits.nameCharacters);
    }
  return clipped ? withWrittenLine(clipped as Kind, writtenLine(frame) ?? '') : frame;
}
