import type { ReportKind } from '../report/report-kinds.ts';
import type { ReadableException, ReadableFrame, ReadableReport } from '../symbolicate/readable-report.ts';
import { functionNames } from './function-names.ts';
import { simpleClass } from './jvm-names.ts';
import { normaliseMessage } from './normalise-message.ts';
import type { SkipRule } from './skip-rules.ts';

export interface Grouping {
  /** Equal for reports of one case; text, to be hashed by whoever stores it. */
  readonly key: string;
  /** What went wrong: the simple type name. */
  readonly what: string;
  /** Where in our code: the culprit in short form, else the top frame, else the normalised message. */
  readonly where: string;
  readonly message: string | null;
  /** The frame a developer would open first. */
  readonly culprit: { readonly function: string; readonly file: string | null; readonly line: number | null } | null;
  /** Made from names that a missing symbol file hides; the report will be grouped again. */
  readonly provisional: boolean;
  readonly explanation: GroupingExplanation;
}

/** The reasons, frame by frame, as the case page shows them. */
export interface GroupingExplanation {
  /** Position of the exception that decided, in the report's list. */
  readonly exception: number | null;
  readonly basis: 'our-frames' | 'outside-frames' | 'message';
  /** Functions that make the case what it is. */
  readonly kept: readonly { readonly frame: number; readonly function: string }[];
  readonly skipped: readonly { readonly frame: number; readonly rule: SkipRule }[];
}

/** More frames would split one cause by its callers, fewer would merge causes that share a helper. */
const framesOfAKey = 3;

/**
 * Groups a report (DESIGN: normalise, then choose, then hash, and keep the explanation).
 * `build` keeps provisional keys of two builds apart, whose obfuscated names have nothing in common.
 */
export function groupReport(kind: ReportKind, report: ReadableReport, build: string): Grouping {
  const exception = decidingException(report.exceptions);
  const decided = exception === null ? undefined : report.exceptions[exception];
  const frames = decided?.frames ?? report.threads.find((thread) => thread.crashed)?.frames ?? [];
  const type = decided?.type ?? kind;
  const what = shortType(type);
  const message = decided?.message ?? null;

  const { kept, skipped, basis } = chooseFrames(frames);
  const provisional = kept.some(({ frame }) => frames[frame]?.status === 'no-symbols');
  const culpritFrame = kept.length > 0 ? (frames[kept[0]?.frame as number] as ReadableFrame) : undefined;
  const culprit = culpritFrame ? { function: culpritFrame.function, file: culpritFrame.file, line: culpritFrame.line } : null;
  const normalised = message === null ? '' : normaliseMessage(message);
  const parts =
    basis === 'message'
      ? [basis, kind, type, normalised]
      : [provisional ? `provisional ${build}` : basis, kind, type, ...kept.map((one) => one.function)];
  return {
    key: parts.join('\n'),
    what,
    where: culpritFrame ? functionNames(culpritFrame).short(culpritFrame) : normalised.slice(0, 200) || 'no stack',
    message,
    culprit,
    provisional,
    explanation: { exception, basis, kept, skipped },
  };
}

/** A type without its package; what is no qualified name ("SIGSEGV (SEGV_MAPERR)") stays. */
const shortType = (type: string): string => (/^[\w.$]+$/.test(type) ? simpleClass(type).replaceAll('$', '.') : type);

/** The innermost cause that our code had a part in; wrappers around it say where it surfaced, not what broke. */
function decidingException(exceptions: readonly ReadableException[]): number | null {
  if (exceptions.length === 0) return null;
  const chain = exceptions.flatMap((exception, index) => (exception.relation === 'suppressed' ? [] : [index]));
  const inMainChain = chain.filter((index) => !descendsFromSuppressed(exceptions, index));
  const ofOurs = inMainChain.filter((index) => {
    const { frames, framesInCommon } = exceptions[index] as ReadableException;
    return frames.slice(0, frames.length - framesInCommon).some((frame) => frame.ours);
  });
  return ofOurs.at(-1) ?? inMainChain.at(-1) ?? 0;
}

function descendsFromSuppressed(exceptions: readonly ReadableException[], index: number): boolean {
  for (let at: number | null = index; at !== null; at = exceptions[at]?.parent ?? null)
    if (exceptions[at]?.relation === 'suppressed') return true;
  return false;
}

function chooseFrames(frames: readonly ReadableFrame[]): Omit<GroupingExplanation, 'exception'> {
  const ours = chooseAmong(frames, (frame) => frame.ours);
  if (ours.kept.length > 0) return { basis: 'our-frames', ...ours };
  const outside = chooseAmong(frames, () => true);
  return outside.kept.length > 0 ? { basis: 'outside-frames', ...outside } : { basis: 'message', kept: [], skipped: [] };
}

function chooseAmong(frames: readonly ReadableFrame[], counts: (frame: ReadableFrame) => boolean) {
  const kept: { frame: number; function: string }[] = [];
  const skipped: { frame: number; rule: SkipRule }[] = [];
  const reporters: { frame: number; function: string }[] = [];
  frames.forEach((frame, index) => {
    const names = functionNames(frame);
    const name = names.written(frame);
    const skip = (rule: SkipRule) => skipped.push({ frame: index, rule });
    if (!counts(frame)) skip('outside');
    else if (kept.length === framesOfAKey) skip('enough-frames');
    else if (names.isCompilerMade(frame)) skip('compiler-made');
    else if (kept.length === 0 && names.reportsTrouble(frame)) {
      skip('reports-trouble');
      reporters.push({ frame: index, function: name });
    } else if (kept.at(-1)?.function === name) skip('repeated');
    else kept.push({ frame: index, function: name });
  });
  // A stack of nothing but checks is still told apart by them.
  return kept.length > 0 ? { kept, skipped } : { kept: reporters, skipped: skipped.filter((one) => one.rule !== 'reports-trouble') };
}
