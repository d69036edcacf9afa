import { type CallsInSources, plainName } from '../symbols/sourcemap/calls-in-sources.ts';
import type { ReadableFrame } from './readable-report.ts';

/** What a source map tells of the place of a frame. */
export interface ScriptPlace {
  readonly calls: CallsInSources;
  /** What the text of the source calls at the place; null when it calls nothing there by its name. */
  readonly called: string | null;
  /** The function that ran by the engine's word, which may be a minifier's name. */
  readonly ran: string | null;
}

/** The name that is called where a text begins: `flush(row)` or `shelf.flush(row)` → "flush". */
export function calledAt(text: string): string | null {
  const called = /^(?:new\s+)?(?:[\p{L}_$][\p{L}\p{N}_$]*\s*\??\.\s*)*([\p{L}_$][\p{L}\p{N}_$]*)\s*(?:\?\.\s*)?\(/u.exec(text)?.[1];
  return called === undefined || isKeyword.test(called) ? null : called;
}
const isKeyword = /^(?:if|for|while|switch|catch|function|return|await|typeof|super|import)$/;

/**
 * Puts back the calls of scripts that have no frame of their own: a minifier or the compiler of byte code put the function into
 * another, or the engine gave its frame to the call that it ended with. A frame lies in `next`, and the one below calls `rows`: where
 * the sources say that `rows` calls `next`, it stood between them.
 */
export function withCallsLeftOut(
  frames: readonly ReadableFrame[],
  placeOf: (frame: ReadableFrame) => ScriptPlace | undefined,
): ReadableFrame[] {
  return frames.flatMap((frame, at) => {
    const caller = frames[at + 1];
    const place = placeOf(frame);
    const below = caller && placeOf(caller);
    if (!place || !below || caller.rawIndex !== frame.rawIndex + 1 || caller.asynchronous) return [frame];
    const between = callsBetween(plainName(frame.function), below.called ?? place.ran, place.calls);
    return between.length === 0
      ? [frame]
      : [
          { ...frame, inlined: true },
          ...between.map((name, index) =>
            leftOut(frame, { function: name, file: place.calls.sourceOf(name), inlined: index < between.length - 1 }),
          ),
        ];
  });
}

/** The functions between one that ran and the one that was called, innermost first and the called one among them. */
function callsBetween(ran: string, called: string | null, calls: CallsInSources): string[] {
  if (called === null || called === ran || ran === '<anonymous>') return [];
  const ofCalled = calls.of(called);
  if (!ofCalled || !calls.of(ran)) return [];
  if (ofCalled.has(ran)) return [called];
  const through = [...ofCalled].filter((name) => name !== called && calls.of(name)?.has(ran));
  return through.length === 1 ? [through[0] as string, called] : [];
}

const leftOut = (
  { context: _context, alternatives: _alternatives, ...frame }: ReadableFrame,
  call: Pick<ReadableFrame, 'function' | 'file' | 'inlined'>,
): ReadableFrame => ({ ...frame, ...call, line: null, column: null });
