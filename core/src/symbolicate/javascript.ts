import type { Frame, JavascriptFrame } from '../report/frames.ts';
import { scriptName } from '../symbols/script-name.ts';
import { plainName } from '../symbols/sourcemap/calls-in-sources.ts';
import { readAsReported } from './as-reported.ts';
import { calledAt, type ScriptPlace, withCallsLeftOut } from './calls-left-out.ts';
import type { Reading } from './native.ts';
import { isHelper, isOurScript } from './our-frames.ts';
import type { ReadableFrame, SymbolNeed } from './readable-report.ts';

/** Lines of source shown before and behind the line of a frame. */
const contextLines = 3;
const longestContextLine = 300;

/** Restores a frame of a script by its source map; the function is the one around the place in the original source. */
export function readJavascriptFrame(frame: JavascriptFrame, rawIndex: number, { source, rule, needs }: Reading): ReadableFrame {
  const reported = readAsReported(frame, rawIndex, rule);
  if (frame.native || frame.line === null || frame.evalOrigin !== null || !isScript(frame.file)) return reported;
  const need = sourceMapNeed(frame);
  const map = source.find('sourcemap', need);
  if (map || looksBundled(frame)) needs.note(need, map !== null);
  if (!map) return looksBundled(frame) ? { ...reported, status: 'no-symbols' } : reported;
  // Engines count columns from 1; offsets in byte code count from 0.
  const found = frame.column === null ? null : map.lookup(frame.line, frame.bytecode ? frame.column : frame.column - 1);
  if (!found) return { ...reported, status: 'not-covered' };
  const first = Math.max(1, found.line - contextLines);
  const lines = map.sourceLines(found.sourceIndex, first, found.line + contextLines);
  const { unnamed: _unnamed, ...place } = reported;
  // Dart's compiler names in its maps the function that a place is in; other tools the thing that stands there.
  const isDart = /\.dart$/.test(found.source ?? '');
  const name = (isDart ? found.name : found.function) ?? frame.function;
  const readable: ReadableFrame = {
    ...(name === null ? reported : { ...place, function: name }),
    file: found.source,
    line: found.line,
    column: found.column,
    ours: !found.ignored && isOurScript(found.source ?? '') && !isHelper(name ?? '', found.source),
    status: 'resolved',
    ...(lines ? { context: { firstLine: first, lines: lines.map((line) => line.slice(0, longestContextLine)) } } : {}),
  };
  if (!isDart)
    places.set(readable, {
      named: found.exact ? found.name : null,
      isNamed: found.function !== null,
      calls: map.calls,
      called: calledAt(lines?.[found.line - first]?.slice(found.column - 1) ?? ''),
      ran: frame.function === null || shortened.test(frame.function) ? null : plainName(frame.function),
    });
  return readable;
}

/** Of frames that a map restored: what it calls the thing at their place, and whether the text of their source named their function. */
const places = new WeakMap<ReadableFrame, ScriptPlace & { readonly named: string | null; readonly isNamed: boolean }>();
const shortened = /^(?:new |async )?[\w$]{1,2}$/;

/**
 * Where a map holds no text of the sources, a function that a minifier shortened has the name by which the frame below called it. What
 * the engine itself called, such as the callback of a list, keeps the name it has.
 */
export function namedByCallers(readable: readonly ReadableFrame[]): ReadableFrame[] {
  return readable.map((frame, at) => {
    const caller = readable[at + 1];
    const calls = caller === undefined ? null : (places.get(caller)?.named ?? null);
    const isOpen = places.get(frame)?.isNamed === false && (frame.unnamed === true || shortened.test(frame.function));
    if (!isOpen || calls === null) return frame;
    const { unnamed: _unnamed, ...named } = frame;
    return { ...named, function: `${/^new /.exec(frame.function)?.[0] ?? ''}${calls}` };
  });
}

/** Puts back the calls that have no frame of their own, where the sources in the map tell of them. */
export const withScriptCallsLeftOut = (readable: readonly ReadableFrame[]): ReadableFrame[] =>
  withCallsLeftOut(readable, (frame) => places.get(frame));

/** The source map that a frame asks for: that of its script. */
export const sourceMapNeed = ({ file }: JavascriptFrame): SymbolNeed => ({
  kind: 'sourcemap',
  symbolId: null,
  name: file === null ? null : scriptName(file),
});

/**
 * Where a map tells of other frames of a script and nothing of one, that one is code that a transpiler or bundler put in: nobody wrote
 * it, and no file is missing.
 */
export function withoutAddedCode(readable: readonly ReadableFrame[], stack: readonly Frame[]): ReadableFrame[] {
  const scriptOf = ({ rawIndex }: ReadableFrame) => {
    const frame = stack[rawIndex];
    return frame?.runtime === 'javascript' ? frame.file : undefined;
  };
  const covered = new Set(readable.filter((frame) => frame.status === 'resolved').map(scriptOf));
  return readable.map((frame) =>
    frame.status === 'not-covered' && frame.runtime === 'javascript' && covered.has(scriptOf(frame))
      ? { ...frame, ours: false, status: 'as-written' }
      : frame,
  );
}

const isScript = (file: string | null): boolean =>
  file === null || !/^(?:node:|internal\/|wasm:|native$|(?:.*\/)?InternalBytecode\.js$)/.test(file);

/** Whether a frame shows the marks of a script that a bundler made: its own names and lines tell a developer nothing. */
const looksBundled = ({ bytecode, file, column }: JavascriptFrame): boolean =>
  bytecode ||
  (column !== null && column > 300) ||
  (file !== null && /\.(?:bundle|jsbundle|hbc)(?:$|[?#])|[.-](?:min|[0-9a-f]{8,})\.m?js(?:$|[?#])|\.dart\.m?js(?:$|[?#])/.test(file));
