import { failure, type Problem, type Result, success } from '../../result.ts';
import { type Comparator, comparators } from './filter.ts';

export interface Token {
  readonly kind: 'word' | 'string' | 'comparator' | '(' | ')' | ',' | '.' | '-';
  /** Without quotes and escapes. */
  readonly text: string;
  readonly at: number;
  readonly end: number;
  /** White space stands in front. */
  readonly spaced: boolean;
}

/** A mistake in a filter, with the place in its text. */
export interface FilterProblem extends Problem<'bad-filter'> {
  /** Offset of the first character that does not fit. */
  readonly at: number;
}
export type FilterResult<Value> = { readonly ok: true; readonly value: Value } | { readonly ok: false; readonly problem: FilterProblem };

export const badFilter = (message: string, at: number): { ok: false; problem: FilterProblem } => ({
  ok: false,
  problem: { code: 'bad-filter', message, at },
});

const wordCharacter = /[^\s()<>=!:,."']/;

/** Splits the text of a filter (AIP-160 EBNF: TEXT, STRING, COMPARATOR and the signs). */
export function readTokens(text: string): FilterResult<Token[]> {
  const tokens: Token[] = [];
  let at = 0;
  while (at < text.length) {
    const start = at;
    while (at < text.length && /\s/.test(text[at] as string)) at++;
    if (at === text.length) break;
    const spaced = at > start || at === 0;
    const first = text[at] as string;
    const comparator = comparators.find((one) => text.startsWith(one, at));
    const add = (kind: Token['kind'], end: number, value = text.slice(at, end)) => {
      tokens.push({ kind, text: value, at, end, spaced });
      at = end;
    };
    if (first === '"' || first === "'") {
      const string = readString(text, at);
      if (!string.ok) return badFilter(string.problem.message, at);
      add('string', string.value.end, string.value.text);
    } else if (comparator !== undefined) add('comparator', at + comparator.length);
    else if (first === '(' || first === ')' || first === ',' || first === '.') add(first, at + 1);
    else if (first === '-' && spaced && /[^\s]/.test(text[at + 1] ?? ' ')) add('-', at + 1);
    else if (first === '!') return badFilter('"!" needs "=" behind it; to say that something does not hold, write NOT or "-"', at);
    else {
      let end = at;
      while (end < text.length && wordCharacter.test(text[end] as string)) end++;
      add('word', end);
    }
  }
  return success(tokens);
}

function readString(text: string, start: number): Result<{ text: string; end: number }> {
  const quote = text[start];
  let value = '';
  for (let at = start + 1; at < text.length; at++) {
    const character = text[at] as string;
    if (character === quote) return success({ text: value, end: at + 1 });
    if (character === '\\' && at + 1 < text.length) value += text[++at];
    else value += character;
  }
  return failure('unclosed', `the quotation mark is not closed`);
}

export const isComparator = (text: string): text is Comparator => comparators.some((one) => one === text);
