import type { Algorithm } from '../function-names.ts';

/** A pattern of a rule: the text as a whole, with `*` for any stretch of it. */
export type Pattern = string;

/** What a frame is asked for. All parts that are given must fit. */
export interface FrameCondition {
  readonly function?: Pattern;
  readonly file?: Pattern;
  /** Of the library, executable or assembly. */
  readonly image?: Pattern;
}

/** What a report is asked for; the frame parts must fit one and the same frame. */
export interface ReportCondition extends FrameCondition {
  readonly type?: Pattern;
  readonly message?: Pattern;
  readonly kind?: Pattern;
}

export type GroupingRule = { readonly line: number } & (
  | { readonly verb: 'ours' | 'outside' | 'skip' | 'stop'; readonly frame: FrameCondition }
  | { readonly verb: 'message'; readonly when: ReportCondition }
  | { readonly verb: 'apart'; readonly by: 'attribute' | 'flag'; readonly name: string }
  | { readonly verb: 'algorithm'; readonly algorithm: Algorithm }
  | { readonly verb: 'join'; readonly name: string; readonly when: ReportCondition }
);

/** The rules of an app, in the order of their lines. */
export type GroupingRules = readonly GroupingRule[];
export const noRules: GroupingRules = [];

/** What each verb does, as the editor and the documentation say it. */
export const ruleVerbs = {
  ours: 'the frame is in our code',
  outside: 'the frame is not in our code',
  skip: 'the frame never decides',
  stop: 'the frame, and those that called it, do not decide',
  message: 'such reports are grouped by type and message',
  apart: 'reports with another value are another case',
  join: 'such reports are one case',
  algorithm: 'the way of grouping by its number',
} as const;
export type RuleVerb = keyof typeof ruleVerbs;

export const frameWords = ['function', 'file', 'image'] as const;
export const reportWords = [...frameWords, 'type', 'message', 'kind'] as const;

/** A test for a pattern; linear in the length of both, whatever the pattern. */
export function patternTest(pattern: Pattern): (text: string) => boolean {
  const parts = pattern.split('*');
  if (parts.length === 1) return (text) => text === pattern;
  const [first, last] = [parts[0] as string, parts.at(-1) as string];
  const middle = parts.slice(1, -1).filter((part) => part !== '');
  return (text) => {
    if (text.length < first.length + last.length || !text.startsWith(first) || !text.endsWith(last)) return false;
    let at = first.length;
    const end = text.length - last.length;
    for (const part of middle) {
      const found = text.indexOf(part, at);
      if (found < 0 || found + part.length > end) return false;
      at = found + part.length;
    }
    return true;
  };
}
