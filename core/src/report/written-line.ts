import type { Frame } from './frames.ts';

const lines = new WeakMap<Frame, string>();

/** Keeps with a frame, as long as it lives, the line that it was read from; for whoever shows it as the system wrote it. */
export function withWrittenLine<Kind extends Frame>(frame: Kind, line: string): Kind {
  lines.set(frame, line);
  return frame;
}

/** The line that a frame was read from, whole; null where it came in another form, such as JSON. */
export const writtenLine = (frame: Frame): string | null => lines.get(frame) ?? null;
