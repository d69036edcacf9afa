import type { ReadableFrame, ReadableReport } from '../../symbolicate/readable-report.ts';
import { type Algorithm, currentAlgorithm } from '../function-names.ts';
import {
  type FrameCondition,
  frameWords,
  type GroupingRule,
  type GroupingRules,
  patternTest,
  type ReportCondition,
} from './grouping-rules.ts';

/** Rules made ready to be asked about many reports. */
export interface RuleSet {
  /** The way of grouping that the rules name, else today's. */
  readonly algorithm: Algorithm;
  /** Whether a frame is in our code, the first rule that fits deciding. */
  isOurs(frame: ReadableFrame): { readonly ours: boolean; readonly rule: number | null };
  /** The line of the rule by which a frame never decides. */
  skips(frame: ReadableFrame): number | null;
  /** The line of the rule by which the stack ends at a frame. */
  stops(frame: ReadableFrame): number | null;
  /** The rule that decides about a report as a whole. */
  decides(kind: string, report: ReadableReport): Extract<GroupingRule, { verb: 'message' | 'join' }> | null;
  /** What else reports of one case must have in common. */
  readonly apart: readonly Extract<GroupingRule, { verb: 'apart' }>[];
}

type FrameRule = Extract<GroupingRule, { frame: FrameCondition }>;
type ReportRule = Extract<GroupingRule, { when: ReportCondition }>;

/** Makes rules ready; patterns are taken apart once. */
export function ruleSet(rules: GroupingRules): RuleSet {
  const framed = rules.filter((rule): rule is FrameRule => 'frame' in rule).map((rule) => ({ rule, fits: frameTest(rule.frame) }));
  const whole = rules.filter((rule): rule is ReportRule => 'when' in rule).map((rule) => ({ rule, fits: reportTest(rule.when) }));
  const first = (verbs: readonly string[], frame: ReadableFrame) =>
    framed.find(({ rule, fits }) => verbs.includes(rule.verb) && fits(frame))?.rule ?? null;
  return {
    algorithm: rules.find((rule) => rule.verb === 'algorithm')?.algorithm ?? currentAlgorithm,
    isOurs: (frame) => {
      const rule = first(['ours', 'outside'], frame);
      return { ours: rule === null ? frame.ours : rule.verb === 'ours', rule: rule?.line ?? null };
    },
    skips: (frame) => first(['skip'], frame)?.line ?? null,
    stops: (frame) => first(['stop'], frame)?.line ?? null,
    decides: (kind, report) => whole.find(({ fits }) => fits(kind, report))?.rule ?? null,
    apart: rules.filter((rule) => rule.verb === 'apart'),
  };
}

const always = () => true;
const test = (pattern: string | undefined): ((text: string) => boolean) => (pattern === undefined ? always : patternTest(pattern));

function frameTest({ function: named, file, image }: FrameCondition): (frame: ReadableFrame) => boolean {
  const [fitsFunction, fitsFile, fitsImage] = [test(named), test(file), test(image)];
  return (frame) => fitsFunction(frame.function) && fitsFile(frame.file ?? '') && fitsImage(frame.image ?? '');
}

function reportTest({ type, message, kind, ...frame }: ReportCondition): (kind: string, report: ReadableReport) => boolean {
  const [fitsType, fitsMessage, fitsKind, fitsFrame] = [test(type), test(message), test(kind), frameTest(frame)];
  const asksFrame = frameWords.some((word) => frame[word] !== undefined);
  return (ofKind, { exceptions, threads }) => {
    if (!fitsKind(ofKind)) return false;
    const asksException = type !== undefined || message !== undefined;
    if (asksException && !exceptions.some((one) => fitsType(one.type) && (message === undefined || fitsMessage(one.message ?? ''))))
      return false;
    return !asksFrame || [...exceptions, ...threads.filter((thread) => thread.crashed)].some(({ frames }) => frames.some(fitsFrame));
  };
}
