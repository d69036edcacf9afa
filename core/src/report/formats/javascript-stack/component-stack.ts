import type { JavascriptFrame } from '../../frames.ts';
import { withWrittenLine } from '../../written-line.ts';
import { parseAtFrame, parseAtSignFrame, plainJavascriptFrame } from './frame.ts';

/** The lines `[from, to)` of a text that are a stack of components, outermost last. */
export interface ComponentRun {
  readonly from: number;
  readonly to: number;
  readonly frames: readonly JavascriptFrame[];
}

const heading =
  /^\s*(?:The above error occurred in|This error is located at:|(?:Error )?Component Stack(?: Trace)?:?\s*$|React will try to recreate this component tree)/i;
const component = String.raw`[\p{L}_$][\p{L}\p{N}_$.]{0,199}(?:\([\p{L}\p{N}_$.() ]{1,200}\))?`;
/** "in List (created by App)", "in List (at screen.js:12)", "in List". */
const writtenIn = new RegExp(
  String.raw`^\s*in (${component})(?: \((?:created by [^()]{1,200}(?:\([^()]*\))?|at ([^()]{1,1000}?):(\d{1,9})(?::(\d{1,9}))?)\))?\s*$`,
  'u',
);
const bareAt = new RegExp(String.raw`^\s*at (${component})\s*$`, 'u');
/** Of elements without code; functions of the engine have the name of what they are a method of. */
const placeless = /^\s*at ([\p{L}_$][\p{L}\p{N}_$]{0,199}) \(<anonymous>\)\s*$/u;
const bareSign = new RegExp(String.raw`^\s*(${component})@unknown:0:0\s*$`, 'u');
const bareName = /^\s*([\p{L}_$][\p{L}\p{N}_$.]{0,199})\s*$/u;

/** Of the first generation: what only component stacks say. */
function parseWritten(line: string): JavascriptFrame | null {
  const match = writtenIn.exec(line);
  if (!match) return null;
  const [, name = null, file = null, at, column] = match;
  return plainJavascriptFrame({ function: name, file, line: at ? Number(at) : null, column: column ? Number(column) : null });
}

/** Of the second: a frame of either dialect, or a name without a place. */
function parseBare(line: string): JavascriptFrame | null {
  const name = (bareAt.exec(line) ?? placeless.exec(line) ?? bareSign.exec(line))?.[1];
  return name === undefined ? null : plainJavascriptFrame({ function: name });
}

/**
 * Finds the stacks of components in a text. Those of the first generation say "in" before each; those of the second look like frames,
 * but for names without a place, and stand below a heading, behind an empty line, or alone.
 */
export function findComponentRuns(lines: readonly string[]): ComponentRun[] {
  const runs: ComponentRun[] = [];
  for (let at = 0; at < lines.length; ) {
    const isHeading = heading.test(lines[at] as string);
    const from = at;
    if (isHeading) {
      at++;
      // One heading may follow on another, with what it says to do in between.
      while (at < lines.length && ((lines[at] as string).trim() === '' || heading.test(lines[at] as string))) at++;
    }
    const run = readRun(lines, at, isHeading);
    const { to, frames } = run;
    const isApart = (lines[from - 1] ?? '').trim() === '';
    // Behind the frames of the error itself, on which it follows without a line between them.
    const skipped = run.isSure === 'bare' && !isHeading && !isApart ? beginOfComponents(run) : 0;
    if (frames.length > 0 && (isHeading || run.isSure === 'written' || (run.isSure === 'bare' && (isApart || skipped > 0)))) {
      runs.push({ from: from + skipped, to, frames: frames.slice(skipped) });
      at = to;
    } else at = isHeading ? at : Math.max(to, at + 1);
  }
  return runs;
}

interface Run {
  readonly to: number;
  readonly frames: readonly JavascriptFrame[];
  readonly isSure: 'written' | 'bare' | null;
  /** Position of the first name without a place. */
  readonly firstBare: number;
}

/** Components have names with a capital letter; those of the functions that render them begin with a small one. */
function beginOfComponents({ frames, firstBare }: Run): number {
  let begin = firstBare;
  while (begin > 0 && /^\p{Lu}[\p{L}\p{N}_$]*$/u.test(frames[begin - 1]?.function ?? '')) begin--;
  return begin;
}

function readRun(lines: readonly string[], from: number, isHeaded: boolean): Run {
  const frames: JavascriptFrame[] = [];
  let firstBare = -1;
  let isSure: 'written' | 'bare' | null = null;
  let at = from;
  for (; at < lines.length; at++) {
    const line = lines[at] as string;
    const written = parseWritten(line);
    const bare = written ? null : parseBare(line);
    const placed = written || bare ? null : (parseAtFrame(line) ?? parseAtSignFrame(line, !isHeaded));
    const name = isHeaded && frames.length > 0 ? bareName.exec(line)?.[1] : undefined;
    const frame = written ?? bare ?? placed ?? (name === undefined ? null : plainJavascriptFrame({ function: name }));
    if (!frame) break;
    // "in" and "at" are of different generations.
    if (frames.length > 0 && (isSure === 'written') !== (written !== null)) break;
    if (written) isSure = 'written';
    else if (bare) {
      isSure = 'bare';
      if (firstBare < 0) firstBare = frames.length;
    }
    frames.push(withWrittenLine(frame, line));
  }
  return { to: at, frames, isSure, firstBare };
}
