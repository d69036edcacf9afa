import type { Report } from '../report/report.ts';
import type { ReportKind } from '../report/report-kinds.ts';
import { lastScreen } from '../report/trail.ts';
import type { ReadableException, ReadableFrame, ReadableReport } from '../symbolicate/readable-report.ts';
import { chooseFrames, type KeptFrame, type SkippedFrame } from './choose-frames.ts';
import { functionNames } from './function-names.ts';
import { simpleClass } from './jvm-names.ts';
import { normaliseMessage } from './normalise-message.ts';
import { type RuleSet, ruleSet } from './rules/apply-rules.ts';
import { noRules } from './rules/grouping-rules.ts';
import { isStackOverflow, stackCycle } from './stack-cycle.ts';

export interface Grouping {
  /** Equal for reports of one case; text, to be hashed by whoever stores it. */
  readonly key: string;
  /** Equal for reports of one case that came the same way: all frames of ours, and the message. A case can be split by it. */
  readonly variant: string;
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
  /** Version of the algorithm that decided; explanations from before versions were counted have none. */
  readonly algorithm?: number;
  /** Position of the exception that decided, in the report's list. */
  readonly exception: number | null;
  /** Position of the thread that decided: the one the hung thread waits for, else null. */
  readonly thread?: number | null;
  readonly basis: 'our-frames' | 'outside-frames' | 'cycle' | 'message' | 'screen' | 'joined';
  /** Functions that make the case what it is. */
  readonly kept: readonly KeptFrame[];
  readonly skipped: readonly SkippedFrame[];
  /** Lines of the app's own rules that had a say. */
  readonly ruleLines?: readonly number[];
  /** What else its reports have in common, by rule: `attribute tenant = north`. */
  readonly apart?: readonly string[];
}

/** What grouping asks of a report beside its stacks. */
export interface GroupingContext {
  readonly kind: ReportKind;
  /** Keeps provisional keys of two builds apart, whose obfuscated names have nothing in common. */
  readonly build: string;
  /** The screen that was shown last, for what has no stack. */
  readonly screen: string | null;
  /** Position of the thread that holds what the hung one waits for. */
  readonly holder: number | null;
  readonly attributes: Report['attributes'];
  readonly flags: Report['flags'];
}

/** What grouping needs to know of a report. */
export function groupingContext(
  report: Pick<Report, 'kind' | 'threads'> &
    Partial<Pick<Report, 'trail' | 'attributes' | 'flags'>> & { version?: string | null; build?: string | null },
): GroupingContext {
  const { kind, version, build, trail = [], threads, attributes = {}, flags = {} } = report;
  const hung = kind === 'hang' ? threads.find((thread) => thread.crashed) : undefined;
  const holderId = hung?.waitsFor?.threadId ?? null;
  const holder = holderId === null ? -1 : threads.findIndex((thread) => thread.id === holderId && thread !== hung);
  const screen = lastScreen(trail);
  return { kind, build: `${version ?? ''} ${build ?? ''}`, screen, holder: holder < 0 ? null : holder, attributes, flags };
}

/** The context of a report of which only stacks are known. */
export const bareContext = (kind: ReportKind, build = ''): GroupingContext => ({
  kind,
  build,
  screen: null,
  holder: null,
  attributes: {},
  flags: {},
});

const withoutRules = ruleSet(noRules);

/** Groups a report (DESIGN: normalise, then choose, then hash, and keep the explanation), under the rules of its app. */
export function groupReport(context: GroupingContext, report: ReadableReport, rules: RuleSet = withoutRules): Grouping {
  const { kind, build, screen } = context;
  const exception = decidingException(report.exceptions, rules);
  const decided = exception === null ? undefined : report.exceptions[exception];
  const thread = decidingThread(context, report, rules);
  const frames =
    (thread === null ? decided?.frames : report.threads[thread]?.frames) ?? report.threads.find((one) => one.crashed)?.frames ?? [];
  const type = decided?.type ?? kind;
  const message = decided?.message ?? null;
  const normalised = message === null ? '' : normaliseMessage(message);
  const ruled = rules.decides(kind, report);
  const cycle = cycleOf(frames, decided, rules);
  const chosen = chooseFrames(frames, rules);
  const byStack = cycle.length > 0 ? 'cycle' : chosen.kept.length === 0 ? 'message' : chosen.basis;
  const basis = ruled?.verb === 'join' ? 'joined' : ruled?.verb === 'message' ? 'message' : byStack;
  const byScreen = basis === 'message' && ruled === null && normalised === '' && screen !== null;
  const kept = basis === 'cycle' ? cycle : basis === 'message' || basis === 'joined' ? [] : chosen.kept;

  const provisional = kept.some(({ frame }) => isHidden(frames[frame] as ReadableFrame, rules));
  const [first] = cycle.length > 0 ? cycle : chosen.kept;
  const culpritFrame = first && (frames[first.frame] as ReadableFrame);
  const apart = apartValues(context, rules);
  const byRule = ruled?.verb === 'join' ? [basis, ruled.name] : null;
  const byText = byScreen ? ['screen', kind, type, screen] : basis === 'message' ? [basis, kind, type, normalised] : null;
  const byFrames = [provisional ? `provisional ${build}` : basis, kind, basis === 'cycle' ? stackOverflow : type];
  const parts = [...(byRule ?? byText ?? [...byFrames, ...kept.map((one) => one.function)]), ...apart];
  const title =
    ruled?.verb === 'join'
      ? ruled.name
      : culpritFrame
        ? functionNames(culpritFrame, rules.algorithm).short(culpritFrame)
        : normalised.slice(0, 200);
  return {
    key: parts.join('\n'),
    variant: [...parts, 'variant', type, normalised, ...wayOf(frames, rules)].join('\n'),
    what: shortType(type),
    where: title || (byScreen ? `on ${screen}` : 'no stack'),
    message,
    culprit: culpritFrame ? { function: culpritFrame.function, file: culpritFrame.file, line: culpritFrame.line } : null,
    provisional,
    explanation: {
      algorithm: rules.algorithm,
      exception,
      thread,
      basis: byScreen ? 'screen' : basis,
      kept,
      skipped: basis === 'cycle' ? skippedBy(cycle, chosen.skipped) : chosen.skipped,
      ruleLines: [...new Set([...chosen.lines, ...(ruled ? [ruled.line] : []), ...rules.apart.map((rule) => rule.line)])].sort(
        (a, b) => a - b,
      ),
      apart,
    },
  };
}

/** Stands for the type of what goes round without an end: a signal, or what each engine throws. */
const stackOverflow = 'stack overflow';

/** The functions that a stack without room goes round in; empty for every other stack. */
function cycleOf(frames: readonly ReadableFrame[], decided: ReadableException | undefined, rules: RuleSet): KeptFrame[] {
  if (rules.algorithm === 1) return [];
  const isTold = isStackOverflow(decided);
  return isTold || frames[0]?.runtime === 'native' ? stackCycle(frames, rules, isTold) : [];
}

/** What a cycle leaves out: most of a stack are rounds of it. */
const skippedBy = (cycle: readonly KeptFrame[], skipped: readonly SkippedFrame[]): SkippedFrame[] =>
  skipped
    .filter(({ frame }) => !cycle.some((kept) => kept.frame === frame))
    .map((one) => (one.rule === 'enough-frames' ? { ...one, rule: 'repeated' } : one));

/** Whether a missing symbol file hides the name of a function; .NET always tells it, and lacks lines alone. */
const isHidden = ({ status, runtime }: ReadableFrame, { algorithm }: RuleSet): boolean =>
  status === 'no-symbols' && (algorithm === 1 || runtime !== 'dotnet');

/** A type without its package; what is no qualified name ("SIGSEGV (SEGV_MAPERR)") stays. */
const shortType = (type: string): string => (/^[\w.$]+$/.test(type) ? simpleClass(type).replaceAll('$', '.') : type);

/** The innermost cause that our code had a part in; wrappers around it say where it surfaced, not what broke. */
function decidingException(exceptions: readonly ReadableException[], rules: RuleSet): number | null {
  if (exceptions.length === 0) return null;
  const chain = exceptions.flatMap((exception, index) => (exception.relation === 'suppressed' ? [] : [index]));
  const inMainChain = chain.filter((index) => !descendsFromSuppressed(exceptions, index));
  const ofOurs = inMainChain.filter((index) => {
    const { frames, framesInCommon } = exceptions[index] as ReadableException;
    return frames.slice(0, frames.length - framesInCommon).some((frame) => rules.isOurs(frame).ours);
  });
  return ofOurs.at(-1) ?? inMainChain.at(-1) ?? 0;
}

function descendsFromSuppressed(exceptions: readonly ReadableException[], index: number): boolean {
  for (let at: number | null = index; at !== null; at = exceptions[at]?.parent ?? null)
    if (exceptions[at]?.relation === 'suppressed') return true;
  return false;
}

/** A thread that waits broke nothing; the one that holds what it waits for did, when our code is on it. */
function decidingThread({ holder }: GroupingContext, { threads }: ReadableReport, rules: RuleSet): number | null {
  if (holder === null) return null;
  return threads[holder]?.frames.some((frame) => rules.isOurs(frame).ours) ? holder : null;
}

function apartValues({ attributes, flags }: GroupingContext, rules: RuleSet): string[] {
  return rules.apart.map(({ by, name }) => {
    const value = by === 'flag' ? flags[name] : attributes[name];
    return `${by} ${name} = ${value === undefined ? 'not told' : Array.isArray(value) ? value.map(String).sort().join(', ') : String(value)}`;
  });
}

/** The functions of ours on a stack, by which two ways to the same place are told apart. */
const wayOf = (frames: readonly ReadableFrame[], rules: RuleSet): string[] =>
  frames.filter((frame) => rules.isOurs(frame).ours).map((frame) => functionNames(frame, rules.algorithm).written(frame));
