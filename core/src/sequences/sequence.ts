import { reportKinds } from '../report/report-kinds.ts';
import { failure, type Result, success } from '../result.ts';
import { type StepKind, stepKinds } from './session-path.ts';

/** How a request must have gone: with this status, one of a class such as 5xx, or failed or not. */
export type RequestOutcome =
  | { readonly kind: 'status'; readonly status: number }
  | { readonly kind: 'class'; readonly hundreds: number }
  | { readonly kind: 'failed' }
  | { readonly kind: 'ok' };

/** One step of a sequence, that steps of sessions are held against. */
export interface StepPattern {
  readonly kind: StepKind;
  /** Null for any. Of screens, taps, states and flags the whole name, of requests and log lines a part of it; `*` stands for anything. */
  readonly name: string | null;
  /** Of requests alone. */
  readonly outcome: RequestOutcome | null;
  /** How soon it must follow the step before, in milliseconds; null whenever. */
  readonly withinMs: number | null;
}

export type Sequence = readonly StepPattern[];

export const mostSteps = 10;
export const longestSequence = 1_000;

/** Words as they are written: names, quoted names, commas. */
const wordPattern = /"(?:[^"\\]|\\.)*"|,|[^\s,"]+/g;

const minuteMs = 60_000;
const units: Readonly<Record<string, number>> = { ms: 1, s: 1_000, sec: 1_000, min: minuteMs, m: minuteMs, h: 60 * minuteMs };
const joining = new Set(['then', ',']);
const isReport = (kind: StepKind): boolean => (reportKinds as readonly string[]).includes(kind);

/**
 * Reads a sequence as it is written: `screen Map then tap Offline then request tiles 5xx within 10 s`. Its grammar stands in
 * docs/ways.md.
 */
export function parseSequence(text: string): Result<Sequence, 'bad-sequence'> {
  if (text.length > longestSequence) return failure('bad-sequence', `a sequence has at most ${longestSequence} characters`);
  try {
    return success(new SequenceReader(text.match(wordPattern) ?? []).read());
  } catch (error) {
    if (error instanceof BadSequence) return failure('bad-sequence', error.message);
    throw error;
  }
}

class BadSequence extends Error {}

class SequenceReader {
  private at = 0;

  constructor(private readonly words: readonly string[]) {}

  read(): Sequence {
    const steps: StepPattern[] = [];
    while (this.at < this.words.length) {
      while (joining.has(this.word)) this.at++;
      if (this.at === this.words.length) break;
      steps.push(this.readStep(steps.length === 0));
    }
    if (steps.length === 0) throw new BadSequence('a sequence has at least one step, such as "screen Map"');
    if (steps.length > mostSteps) throw new BadSequence(`a sequence has at most ${mostSteps} steps`);
    return steps;
  }

  /** The next word, in lower case; empty at the end. */
  private get word(): string {
    return (this.words[this.at] ?? '').toLowerCase();
  }

  private readStep(isFirst: boolean): StepPattern {
    const kind = stepKinds.find((one) => one === this.word);
    if (kind === undefined)
      throw new BadSequence(
        `"${this.words[this.at]}" begins no step; a step begins with ${stepKinds.join(', ')}, and then follows the next`,
      );
    this.at++;
    const name = isReport(kind) ? null : this.readName(kind);
    const outcome = kind === 'request' ? this.readOutcome() : null;
    const withinMs = this.readWithin();
    if (isFirst && withinMs !== null) throw new BadSequence('the first step follows none, so it can have no "within"');
    if (this.at < this.words.length && !joining.has(this.word))
      throw new BadSequence(`"${this.words[this.at]}" was not understood; put names of several words in quotes, and "then" between steps`);
    return { kind, name, outcome, withinMs };
  }

  private readName(kind: StepKind): string | null {
    const word = this.words[this.at];
    if (word === undefined || joining.has(word) || word === 'within') return null;
    if (kind === 'request' && outcomeOf(word) !== null) return null;
    this.at++;
    const name = word.startsWith('"') ? word.slice(1, -1).replace(/\\(.)/g, '$1') : word;
    return name === '' || name === '*' ? null : name;
  }

  private readOutcome(): RequestOutcome | null {
    const outcome = outcomeOf(this.word);
    if (outcome !== null) this.at++;
    return outcome;
  }

  private readWithin(): number | null {
    if (this.word !== 'within') return null;
    this.at++;
    const [, number = '', unit = ''] = /^(\d+(?:\.\d+)?)([a-z]*)$/.exec(this.word) ?? [];
    if (number !== '') this.at++;
    const size = units[unit === '' ? this.word : unit];
    if (number === '' || size === undefined) throw new BadSequence('after "within" comes a time, such as 10 s, 500 ms or 2 min');
    if (unit === '') this.at++;
    return Number(number) * size;
  }
}

function outcomeOf(word: string): RequestOutcome | null {
  if (word === 'failed' || word === 'ok') return { kind: word };
  if (/^[1-5]xx$/i.test(word)) return { kind: 'class', hundreds: Number(word[0]) };
  return /^[1-5]\d\d$/.test(word) ? { kind: 'status', status: Number(word) } : null;
}

/** A sequence as it is written; `parseSequence` reads it back. */
export const printSequence = (sequence: Sequence): string => sequence.map(printStep).join(' then ');

export function printStep({ kind, name, outcome, withinMs }: StepPattern): string {
  const parts: string[] = [kind];
  if (name !== null) parts.push(printName(name));
  if (outcome !== null) parts.push(printOutcome(outcome));
  if (withinMs !== null) parts.push(`within ${printTime(withinMs)}`);
  return parts.join(' ');
}

/** Names that could be taken for another word of a sequence stand in quotes. */
const printName = (name: string): string =>
  /^[\w./*{}=:-]+$/.test(name) && outcomeOf(name) === null && name !== 'within' && name !== 'then'
    ? name
    : `"${name.replace(/["\\]/g, '\\$&')}"`;

export function printOutcome(outcome: RequestOutcome): string {
  if (outcome.kind === 'status') return String(outcome.status);
  return outcome.kind === 'class' ? `${outcome.hundreds}xx` : outcome.kind;
}

function printTime(ms: number): string {
  if (ms > 0 && ms % minuteMs === 0) return `${ms / minuteMs} min`;
  return ms % 1_000 === 0 ? `${ms / 1_000} s` : `${ms} ms`;
}
