import type { ReadableFrame } from '../readable-report.ts';

/** A frame of ours in this function, of which nothing else is known. */
export const readableFrame = (name: string, more: Partial<ReadableFrame> = {}): ReadableFrame => ({
  runtime: 'jvm',
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
