import { formatJvmFrame } from '../report/formats/jvm-stack/frame.ts';
import type { Frame, JvmFrame } from '../report/frames.ts';
import type { MappedFrame, MappingIndex } from '../symbols/mapping/lookup.ts';
import { isOurClass, isOutsideClass, type OurFramesRule } from './our-frames.ts';
import type { FrameStatus, ReadableFrame } from './readable-report.ts';

const mapIdFile = /^r8-map-id-([0-9a-fA-F]+)$/;
const sourceFileName = /\.(java|kt|kts|scala|groovy|clj)$/;

/** The map id that R8 put in place of the source file, or null. */
export const mapIdOf = (frame: JvmFrame): string | null => mapIdFile.exec(frame.file ?? '')?.[1] ?? null;

/** Whether a frame shows the marks of a build whose names need a mapping: no package we know and no source file. */
export const looksObfuscated = (frame: JvmFrame): boolean =>
  !frame.native && !isOutsideClass(frame.class) && !frame.class.includes('$$Lambda') && !sourceFileName.test(frame.file ?? '');

/**
 * Restores the frame at `rawIndex` of a stack; `mapping` is null when the build's mapping is missing, `thrown` the class of
 * the exception as printed. An outline gives no frame.
 */
export function readJvmFrame(
  stack: readonly Frame[],
  rawIndex: number,
  mapping: MappingIndex | null,
  rule: OurFramesRule,
  thrown: string | null,
): ReadableFrame[] {
  const frame = stack[rawIndex] as JvmFrame;
  if (!mapping) return [asPrinted(frame, rawIndex, rule, looksObfuscated(frame) ? 'no-symbols' : 'as-written')];
  const match = mapping.retrace(frame.class, frame.method, frame.line, {
    outlineLine: calledOutlineLine(stack, rawIndex, mapping),
    thrown: rawIndex === 0 ? thrown : null,
  });
  switch (match.state) {
    case 'class-unknown':
      return [asPrinted(frame, rawIndex, rule, looksObfuscated(frame) ? 'not-covered' : 'as-written')];
    case 'method-unknown': {
      const renamed = match.class !== frame.class;
      const restored = { class: match.class, method: frame.method, parameters: '', line: frame.line, file: match.file };
      return [readable(restored, { frame, rawIndex, mapping, rule, inlined: false, status: renamed ? 'not-covered' : 'as-written' })];
    }
    case 'outline':
      return [];
    case 'found': {
      const alternatives = likeliestFirst(withoutRepetition(match.alternatives), callerOf(stack, rawIndex));
      const chain = alternatives[0] as readonly MappedFrame[];
      const others = alternatives.slice(1).map((other) => functionName(other.at(-1) as MappedFrame, mapping));
      const status: FrameStatus = others.length > 0 ? 'ambiguous' : match.lineCovered || !frame.line ? 'resolved' : 'not-covered';
      return chain.map((mapped, index) => ({
        ...readable(mapped, { frame, rawIndex, mapping, rule, inlined: index < chain.length - 1, status }),
        ...(others.length > 0 ? { alternatives: others } : {}),
      }));
    }
  }
}

/** The line of the outline that the frame at `rawIndex` called; null when it called none. */
function calledOutlineLine(stack: readonly Frame[], rawIndex: number, mapping: MappingIndex): number | null {
  const callee = stack[rawIndex - 1];
  if (callee?.runtime !== 'jvm') return null;
  return mapping.retrace(callee.class, callee.method, callee.line).state === 'outline' ? callee.line : null;
}

function withoutRepetition(alternatives: readonly (readonly MappedFrame[])[]): readonly (readonly MappedFrame[])[] {
  const seen = new Set<string>();
  return alternatives.filter((chain) => {
    const key = chain.map((frame) => `${frame.class}.${frame.method}:${frame.line}`).join();
    return !seen.has(key) && seen.add(key);
  });
}

const callerOf = (stack: readonly Frame[], rawIndex: number): JvmFrame | undefined => {
  const caller = stack[rawIndex + 1];
  return caller?.runtime === 'jvm' ? caller : undefined;
};

/**
 * A method and a lambda written inside it can share a name and a line. Library code calls a method by the name it
 * knows, so one that was renamed can be called from there only as a lambda; our code calls the method itself.
 */
function likeliestFirst(
  alternatives: readonly (readonly MappedFrame[])[],
  caller: JvmFrame | undefined,
): readonly (readonly MappedFrame[])[] {
  if (alternatives.length < 2) return alternatives;
  const calledByLibrary = caller !== undefined && (isOutsideClass(caller.class) || caller.class.includes('$$Lambda'));
  const isLambda = (chain: readonly MappedFrame[]) => (chain.at(-1) as MappedFrame).method.startsWith('lambda$');
  return [...alternatives].sort((a, b) => Number(isLambda(b) === calledByLibrary) - Number(isLambda(a) === calledByLibrary));
}

/** ProGuard names a method whose parameters it changed `name$` and eight hexadecimal digits; nobody wrote that. */
const specialised = /\$[0-9a-f]{8}$/;

function functionName(mapped: Pick<MappedFrame, 'class' | 'method'>, mapping: MappingIndex): string {
  const method = mapping.summary.compiler === 'R8' ? mapped.method : mapped.method.replace(specialised, '');
  return `${mapped.class}.${method}`;
}

interface Origin {
  readonly frame: JvmFrame;
  readonly rawIndex: number;
  readonly mapping: MappingIndex;
  readonly rule: OurFramesRule;
  readonly inlined: boolean;
  readonly status: FrameStatus;
}

function readable(mapped: MappedFrame, { frame, rawIndex, mapping, rule, inlined, status }: Origin): ReadableFrame {
  return {
    runtime: 'jvm',
    function: functionName(mapped, mapping),
    file: sourceFile(mapped, frame, mapping),
    line: mapped.line,
    column: null,
    inlined,
    ours: isOurClass(mapped.class, rule),
    status,
    raw: formatJvmFrame(frame),
    rawIndex,
  };
}

function asPrinted(frame: JvmFrame, rawIndex: number, rule: OurFramesRule, status: FrameStatus): ReadableFrame {
  return {
    runtime: 'jvm',
    function: `${frame.class}.${frame.method}`,
    file: frame.file,
    line: frame.line,
    column: null,
    inlined: false,
    // Whose an obfuscated name is can only be told later; it is the app's build that was obfuscated.
    ours: status === 'no-symbols' || status === 'not-covered' || isOurClass(frame.class, rule),
    status,
    raw: formatJvmFrame(frame),
    rawIndex,
  };
}

const outermost = (name: string): string => name.replace(/(?<=[^.$])\$.*$/, '');

/** The mapping's word first, then a real file name that the frame printed for this class, then the usual name. */
function sourceFile(mapped: MappedFrame, frame: JvmFrame, mapping: MappingIndex): string | null {
  if (mapped.file) return mapped.file;
  const top = outermost(mapped.class);
  const printed = frame.file && sourceFileName.test(frame.file) ? frame.file : null;
  if (printed && top === outermost(mapping.className(frame.class) ?? frame.class)) return printed;
  const simple = top.slice(top.lastIndexOf('.') + 1);
  return /.Kt$/.test(simple) ? `${simple.slice(0, -2)}.kt` : `${simple}.java`;
}
