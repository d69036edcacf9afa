import { failure, type Result, success } from '../../result.ts';
import { type Algorithm, algorithms } from '../function-names.ts';
import {
  frameWords,
  type GroupingRule,
  type GroupingRules,
  type ReportCondition,
  type RuleVerb,
  reportWords,
  ruleVerbs,
} from './grouping-rules.ts';

const mostRules = 200;
const longestLine = 500;

/**
 * Reads grouping rules (docs/grouping.md): one a line, a verb and what it is about; `#` begins a remark. A problem says
 * the line.
 *
 * @example parseRules('skip function com.larkfield.guide.text.Require.*\njoin "out of tiles" type *OutOfMemoryError function *TileCache.*')
 */
export function parseRules(text: string): Result<GroupingRules, 'bad-rules'> {
  const rules: GroupingRule[] = [];
  for (const [at, written] of text.split('\n').entries()) {
    const line = at + 1;
    if (written.length > longestLine) return failure('bad-rules', `the line is longer than ${longestLine} characters`, line);
    const words = readWords(written);
    if (words === null) return failure('bad-rules', 'a quotation mark is not closed', line);
    if (words.length === 0) continue;
    const rule = readRule(words);
    if (typeof rule === 'string') return failure('bad-rules', rule, line);
    if (rule.verb === 'algorithm' && rules.some((one) => one.verb === 'algorithm'))
      return failure('bad-rules', 'the algorithm is there twice', line);
    rules.push({ ...rule, line });
    if (rules.length > mostRules) return failure('bad-rules', `there are more than ${mostRules} rules`, line);
  }
  return success(rules);
}

/** The words of a line, quotes taken off; null when a quotation mark is not closed. */
function readWords(line: string): string[] | null {
  const words: string[] = [];
  const word = /\s*(?:#.*$|"((?:[^"\\]|\\.)*)"|([^\s"#][^\s"]*)|(\S))/gy;
  for (let match = word.exec(line); match !== null && match[0] !== ''; match = word.exec(line)) {
    const [, quoted, plain, stray] = match;
    if (stray !== undefined) return null;
    if (quoted !== undefined) words.push(quoted.replace(/\\(.)/g, '$1'));
    else if (plain !== undefined) words.push(plain);
  }
  return words;
}

type Unplaced<Rule> = Rule extends unknown ? Omit<Rule, 'line'> : never;

/** The rule of a line, or what is wrong with it. */
function readRule(words: readonly string[]): Unplaced<GroupingRule> | string {
  const [verb, ...rest] = words as [RuleVerb, ...string[]];
  switch (verb) {
    case 'ours':
    case 'outside':
    case 'skip':
    case 'stop': {
      const frame = readCondition(rest, frameWords);
      return typeof frame === 'string' ? frame : { verb, frame };
    }
    case 'message': {
      const when = readCondition(rest, reportWords);
      return typeof when === 'string' ? when : { verb, when };
    }
    case 'apart': {
      const [by, name, ...more] = rest;
      if ((by !== 'attribute' && by !== 'flag') || name === undefined || more.length > 0)
        return 'write apart attribute NAME, or apart flag NAME';
      return { verb, by, name };
    }
    case 'algorithm': {
      const algorithm = algorithms.find((one) => String(one) === rest[0]);
      return algorithm === undefined || rest.length > 1
        ? `write algorithm and its number: ${algorithms.join(' or ')}`
        : { verb, algorithm };
    }
    case 'join': {
      const [name, ...conditions] = rest;
      if (name === undefined || reportWords.some((word) => word === name)) return 'write join "NAME" and what such reports have';
      const when = readCondition(conditions, reportWords);
      return typeof when === 'string' ? when : { verb, name, when };
    }
    default:
      return `"${String(verb)}" is no rule; a line begins with ${Object.keys(ruleVerbs).join(', ')}`;
  }
}

function readCondition(words: readonly string[], known: readonly (keyof ReportCondition)[]): ReportCondition | string {
  const condition: Partial<Record<keyof ReportCondition, string>> = {};
  for (let at = 0; at < words.length; at += 2) {
    const name = known.find((word) => word === words[at]);
    if (name === undefined) return `"${words[at]}" cannot be asked here; there is ${known.join(', ')}`;
    const pattern = words[at + 1];
    if (pattern === undefined || pattern === '') return `a pattern is missing behind "${name}"`;
    if (condition[name] !== undefined) return `"${name}" is there twice`;
    condition[name] = pattern;
  }
  return words.length === 0 ? `say what it is about: ${known.map((word) => `${word} PATTERN`).join(', ')}` : condition;
}

const algorithmLine = /^[ \t]*algorithm[ \t].*$/m;

/** The line of a text of rules that names the algorithm; empty when it leaves that to the product. */
export const algorithmLineOf = (text: string): string => algorithmLine.exec(text)?.[0].trim() ?? '';

/** A text of rules that names this algorithm instead of the one it named. */
export const withAlgorithm = (text: string, algorithm: Algorithm): string =>
  algorithmLine.test(text)
    ? text.replace(algorithmLine, `algorithm ${algorithm}`)
    : [text.trimEnd(), `algorithm ${algorithm}`].filter(Boolean).join('\n');
