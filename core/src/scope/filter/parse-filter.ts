import { type FieldName, fieldNames, meaningOf } from '../../fields/fields.ts';
import { reportKinds } from '../../report/report-kinds.ts';
import { success } from '../../result.ts';
import type { Comparator, Filter } from './filter.ts';
import { badFilter, type FilterProblem, type FilterResult, readTokens, type Token } from './tokens.ts';

const longestFilter = 4_000;
const deepestNesting = 32;
/** Each condition is a bit of a 32-bit number where filters are tested. */
const mostConditions = 30;

/**
 * Reads a filter in the grammar of AIP-160 (google.aip.dev/160): restrictions `field = value`, `AND`, `OR` (which binds
 * tighter), `NOT` or `-`, parentheses, and bare words, which are looked for in the texts of a report. Null for an empty text.
 * A problem says what does not fit, and where.
 */
export function parseFilter(text: string): FilterResult<Filter | null> {
  if (text.length > longestFilter) return badFilter(`the filter is longer than ${longestFilter} characters`, longestFilter);
  const tokens = readTokens(text);
  if (!tokens.ok) return tokens;
  if (tokens.value.length === 0) return success(null);
  try {
    return success(new FilterParser(tokens.value, text.length).whole());
  } catch (error) {
    if (error instanceof Mistake) return badFilter(error.message, error.at);
    throw error;
  }
}

class Mistake extends Error {
  constructor(
    message: string,
    readonly at: FilterProblem['at'],
  ) {
    super(message);
  }
}

const isKeyword = (token: Token | undefined, word: string): boolean => token?.kind === 'word' && token.text === word;

class FilterParser {
  private next = 0;
  private depth = 0;
  private conditions = 0;

  constructor(
    private readonly tokens: readonly Token[],
    private readonly end: number,
  ) {}

  whole(): Filter {
    const filter = this.expression();
    const left = this.tokens[this.next];
    if (left) throw new Mistake(left.kind === ')' ? 'there is no "(" to this ")"' : `"${left.text}" does not fit here`, left.at);
    return filter;
  }

  /** expression = sequence {AND sequence}; sequence = factor {factor}: both ask for everything. */
  private expression(): Filter {
    const parts = [this.factor()];
    for (let token = this.peek(); token && token.kind !== ')'; token = this.peek()) {
      if (isKeyword(token, 'AND')) this.next++;
      else if (isKeyword(token, 'OR')) throw new Mistake('"OR" needs something on both sides', token.at);
      parts.push(this.factor());
    }
    return joined('and', parts);
  }

  /** factor = term {OR term} */
  private factor(): Filter {
    const parts = [this.term()];
    while (isKeyword(this.peek(), 'OR')) {
      this.next++;
      parts.push(this.term());
    }
    return joined('or', parts);
  }

  /** term = [NOT | "-"] simple */
  private term(): Filter {
    const token = this.peek();
    if (token?.kind === '-' || isKeyword(token, 'NOT')) {
      this.next++;
      return { kind: 'not', part: this.simple() };
    }
    return this.simple();
  }

  private simple(): Filter {
    const token = this.peek();
    if (!token) throw new Mistake('something is missing at the end', this.end);
    if (token.kind === '(') {
      this.next++;
      if (++this.depth > deepestNesting) throw new Mistake(`parentheses are nested deeper than ${deepestNesting}`, token.at);
      const inside = this.expression();
      if (this.peek()?.kind !== ')') throw new Mistake('this "(" is not closed', token.at);
      this.next++;
      this.depth--;
      return inside;
    }
    if (token.kind !== 'word' && token.kind !== 'string') throw new Mistake(`"${token.text}" does not fit here`, token.at);
    if (['AND', 'OR'].some((word) => isKeyword(token, word))) throw new Mistake(`"${token.text}" needs something on both sides`, token.at);
    return this.restriction();
  }

  /** restriction = member [comparator value] */
  private restriction(): Filter {
    const first = this.peek() as Token;
    if (++this.conditions > mostConditions) throw new Mistake(`a filter has at most ${mostConditions} conditions`, first.at);
    const member = this.member();
    const comparator = this.peek();
    if (comparator?.kind === '(' && !comparator.spaced) throw new Mistake('there are no functions in a filter', comparator.at);
    if (comparator?.kind !== 'comparator') return { kind: 'text', text: member.map((part) => part.text).join('.'), at: first.at };
    this.next++;
    const { field, key } = fieldOf(member);
    const value = this.value(comparator);
    const restriction = {
      kind: 'restriction',
      field,
      key,
      comparator: comparator.text as Comparator,
      value: value.text,
      at: first.at,
    } as const;
    const problem = mistakeOf(restriction);
    if (problem) throw new Mistake(problem.message, problem.of === 'value' ? value.at : comparator.at);
    return restriction;
  }

  private member(): Token[] {
    const parts = [this.take()];
    while (this.peek()?.kind === '.') {
      this.next++;
      const part = this.peek();
      if (part?.kind !== 'word' && part?.kind !== 'string') throw new Mistake('a name is missing behind the "."', part?.at ?? this.end);
      parts.push(this.take());
    }
    return parts;
  }

  /** A value: dots belong to it, and so does a sign in front. */
  private value(comparator: Token): { text: string; at: number } {
    const sign = this.peek();
    if (sign?.kind === '-') this.next++;
    const first = this.peek();
    if (first?.kind !== 'word' && first?.kind !== 'string')
      throw new Mistake(`a value is missing behind "${comparator.text}"`, comparator.end);
    const text = this.member()
      .map((part) => part.text)
      .join('.');
    return { text: sign?.kind === '-' ? `-${text}` : text, at: sign?.kind === '-' ? sign.at : first.at };
  }

  private take(): Token {
    return this.tokens[this.next++] as Token;
  }

  private peek(): Token | undefined {
    return this.tokens[this.next];
  }
}

const joined = (kind: 'and' | 'or', parts: Filter[]): Filter => {
  const flat = parts.flatMap((part) => (part.kind === kind ? part.parts : [part]));
  return flat.length === 1 ? (flat[0] as Filter) : { kind, parts: flat };
};

function fieldOf(member: readonly Token[]): { field: FieldName; key: string | null } {
  const [first] = member as [Token];
  const named = member.map((part) => part.text).join('.');
  const known = fieldNames.find((name) => name === named);
  if (known) return { field: known, key: null };
  const map = fieldNames.find((name) => name === first.text && meaningOf(name).isMap);
  if (map)
    return {
      field: map,
      key: member
        .slice(1)
        .map((part) => part.text)
        .join('.'),
    };
  const near = fieldNames.filter((name) => name.startsWith(first.text) || name.endsWith(`.${first.text}`));
  throw new Mistake(
    near.length > 0
      ? `there is no field "${named}"; there is ${near.map((name) => `"${name}"`).join(', ')}`
      : `there is no field "${named}"; for what the app tells, write attributes.${named}`,
    first.at,
  );
}

/** What makes a restriction senseless, in words; null when it is fine. */
function mistakeOf({
  field,
  key,
  comparator,
  value,
}: {
  field: FieldName;
  key: string | null;
  comparator: Comparator;
  value: string;
}): { message: string; of: 'value' | 'comparator' } | null {
  const { order, isMap } = meaningOf(field);
  const wrong = (message: string, of: 'value' | 'comparator') => ({ message, of });
  if (isMap && key === null && comparator !== ':')
    return wrong(`write ${field}.name ${comparator} value, or ${field}:name for those that have it at all`, 'comparator');
  const isOrdered = comparator !== '=' && comparator !== '!=' && comparator !== ':';
  if (isOrdered && order === 'none') return wrong(`"${field}" has no order; use =, != or :`, 'comparator');
  if (isOrdered && order === 'number' && !isNumber(value)) return wrong(`"${value}" is not a number`, 'value');
  if (field === 'kind' && value !== '*' && !reportKinds.some((kind) => kind === value))
    return wrong(`kind is one of ${reportKinds.join(', ')}`, 'value');
  return null;
}

/** Whether a text is a decimal number as people write it. */
export const isNumber = (text: string): boolean => /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i.test(text);
