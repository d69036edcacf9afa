import type { FramesLeftOut } from '@rough-ember/core/report/report';
import type { ReadableFrame } from '@rough-ember/core/symbolicate/readable-report';

/** A piece of a stack as it is shown: a frame, or several outside frames as one counted line. */
export type StackPiece =
  | { readonly type: 'frame'; readonly frame: ReadableFrame; readonly number: number }
  | { readonly type: 'fold'; readonly frames: readonly ReadableFrame[]; readonly packages: readonly string[]; readonly number: number }
  | { readonly type: 'common'; readonly frames: readonly ReadableFrame[]; readonly number: number }
  | { readonly type: 'left-out'; readonly count: number; readonly number: number };

/** A single outside frame between two of ours says more than the line that would fold it. */
const foldedAtLeast = 2;

/**
 * Folds runs of outside frames, and the frames that a cause shares with what it caused, into counted lines; where a stack was
 * cut, a line says how many frames went.
 */
export function foldFrames(frames: readonly ReadableFrame[], framesInCommon: number, leftOut?: FramesLeftOut): StackPiece[] {
  const own = frames.length - framesInCommon;
  const cutAt = leftOut ? frames.findIndex((frame) => frame.rawIndex >= leftOut.after) : -1;
  const pieces: StackPiece[] = [];
  for (let at = 0; at < own; ) {
    if (leftOut && at === cutAt) pieces.push({ type: 'left-out', count: leftOut.count, number: at });
    let end = at;
    while (end < own && !(frames[end] as ReadableFrame).ours && (end === at || end !== cutAt)) end++;
    if (end - at >= foldedAtLeast) {
      const folded = frames.slice(at, end);
      pieces.push({ type: 'fold', frames: folded, packages: packagesOf(folded), number: at });
      at = end;
    } else {
      pieces.push({ type: 'frame', frame: frames[at] as ReadableFrame, number: at });
      at++;
    }
  }
  if (framesInCommon > 0) pieces.push({ type: 'common', frames: frames.slice(own), number: own });
  return pieces;
}

/** The packages of the frames in order of appearance, without repetition: `java.util.stream, java.lang`. */
function packagesOf(frames: readonly ReadableFrame[]): string[] {
  return [...new Set(frames.map(homeOf))].filter((name) => name !== '');
}

/** Where outside code is at home: its package, image, script or library. */
function homeOf(frame: ReadableFrame): string {
  if (frame.runtime === 'native') return baseName(/^(.*?) 0x[0-9a-f]+/.exec(frame.raw)?.[1] ?? '');
  if (frame.runtime === 'javascript')
    return /node_modules\/((?:@[^/]+\/)?[^/]+)/.exec(frame.file ?? '')?.[1] ?? (frame.file ? baseName(frame.file) : 'the engine');
  if (frame.runtime === 'dart') return frame.file?.replace(/\/.*$/, '') ?? '';
  const declaring = frame.function.slice(0, Math.max(0, frame.function.lastIndexOf('.')));
  return declaring.slice(0, Math.max(0, declaring.lastIndexOf('.'))) || declaring;
}

const baseName = (path: string): string => path.slice(Math.max(path.lastIndexOf('/'), path.lastIndexOf('!')) + 1);

/** A function in two parts, so that the package can be shown fainter than what the developer named. */
export function splitPackage(name: string): { package: string; local: string } {
  // Names of native code hold points and blanks of their own; nothing of them is a package.
  if (!/^[\w.$<>]+$/.test(name)) return { package: '', local: name };
  const dot = name.lastIndexOf('.');
  const classDot = name.lastIndexOf('.', dot - 1);
  return { package: name.slice(0, classDot + 1), local: name.slice(classDot + 1) };
}
