import type { Split } from '../cases/desk-settings.ts';
import { type FieldName, fieldNames, meaningOf, wordField } from '../fields/fields.ts';
import { failure, type Result, success } from '../result.ts';
import { sessionFields } from '../session-index/person-day.ts';
import { countNames, counts, countsOf, crashFreeNames, isStatistic, type Measure, requestTime, statistics } from './measures.ts';

export const stepNames = ['hour', 'day', 'week', 'month', 'day since release'] as const;
/** What time is divided into. Days, weeks (from Monday) and months are those of UTC. */
export type StepName = (typeof stepNames)[number];

export const chartNames = [
  'lines',
  'areas',
  'bars',
  'stacked bars',
  'shares',
  'ring',
  'number',
  'table',
  'matrix',
  'histogram',
  'before and after',
  'map',
] as const;
export type ChartName = (typeof chartNames)[number];

/** What is asked of a scope: what to count, divided by what, over which steps of time, and drawn how. */
export interface Question {
  readonly measure: Measure;
  /** At most `mostSplits`. */
  readonly splits: readonly Split[];
  readonly every: StepName | null;
  /** Null for the one that suits. */
  readonly chart: ChartName | null;
}

export const mostSplits = 3;
export const longestQuestion = 600;

export const defaultQuestion: Question = {
  measure: { kind: 'count', count: 'affected people' },
  splits: [{ field: 'version', key: '' }],
  every: null,
  chart: null,
};

/** Fields that reports can be divided by: those with few values that a report has one of. */
const isSplit = (field: FieldName): boolean =>
  !meaningOf(field).isText && field !== 'person' && field !== 'installation' && field !== 'session';
export const splitFields: readonly FieldName[] = fieldNames.filter(isSplit);

/** Whether sessions tell a field, so that they can be divided by it. */
export const sessionsTell = ({ field }: Split): boolean => meaningOf(field).isMap === true || sessionFields.includes(field);

/** Whether a measure is counted from reports, in which more fields are told than in sessions. */
export function isOfReports(measure: Measure): boolean {
  if (isStatistic(measure)) return measure.kind === 'attribute' && measure.of === 'reports';
  return counts[countsOf(measure).count].from === 'reports';
}

/** Why a question cannot be answered, in words that say what would; null when it can. */
export function problemOf({ measure, splits, every }: Question): string | null {
  const unknown = isOfReports(measure) ? undefined : splits.find((split) => !sessionsTell(split));
  if (unknown)
    return `sessions do not tell ${printField(unknown)}; divide them by ${sessionFields.join(', ')}, a flag or an attribute, or count reports`;
  if (every === 'hour' && (!isOfReports(measure) || measure.kind === 'rate'))
    return 'sessions are counted by day; only reports can be told hour by hour';
  if (measure.kind === 'rate' && measure.count === measure.per) return `${measure.count} per ${measure.per} is always the same`;
  return null;
}

/** Words as they are written in a question: names, numbers, quoted names, commas. */
const wordPattern = /[\w.-]+"(?:[^"\\]|\\.)*"|"(?:[^"\\]|\\.)*"|,|[^\s,"]+/g;

/**
 * Reads a question as it is written: `affected people by carrier, version per week as lines`. Its grammar stands in docs/ask.md.
 * What it holds is checked by `problemOf` too.
 */
export function parseQuestion(text: string): Result<Question, 'bad-question'> {
  if (text.length > longestQuestion) return failure('bad-question', `a question has at most ${longestQuestion} characters`);
  try {
    const question = new QuestionReader(text).read();
    const problem = problemOf(question);
    return problem === null ? success(question) : failure('bad-question', problem);
  } catch (error) {
    if (error instanceof BadQuestion) return failure('bad-question', error.message);
    throw error;
  }
}

class BadQuestion extends Error {}

/** What fields are called when one speaks, longest first, so that `system version` is not taken for `system`. */
const fieldsByWords = splitFields
  .filter((field) => !meaningOf(field).isMap)
  .flatMap((field) => [field as string, wordField(field, null)].map((words) => ({ words: words.toLowerCase(), field })))
  .sort((a, b) => b.words.length - a.words.length);
const namesOf = <Name extends string>(names: readonly Name[]): readonly Name[] => [...names].sort((a, b) => b.length - a.length);

class QuestionReader {
  private readonly words: string[];
  private at = 0;

  constructor(text: string) {
    this.words = text.replaceAll('1,000', '1000').match(wordPattern) ?? [];
  }

  read(): Question {
    this.take('count of') || this.take('number of');
    const measure = this.readMeasure();
    let question: Question = { measure, splits: [], every: null, chart: null };
    while (this.at < this.words.length) {
      if (this.take('by')) question = { ...question, splits: this.readSplits() };
      else if (this.take('per') || this.take('each') || this.take('every'))
        question = { ...question, every: this.readOne(stepNames, 'a step of time') };
      else if (this.take('as')) question = { ...question, chart: this.readOne(chartNames, 'a chart') };
      else throw new BadQuestion(`"${this.rest()}" was not understood; after what is counted come "by …", "per …" and "as …"`);
    }
    return question;
  }

  private readMeasure(): Measure {
    const free = this.takeOne(crashFreeNames);
    if (free) return { kind: 'crash-free', name: free };
    const statistic = this.takeOne(statistics);
    if (statistic) {
      this.take('of');
      if (this.take(requestTime)) {
        if (statistic === 'sum' || statistic === 'mean')
          throw new BadQuestion(
            `the time of requests is kept in steps, from which there is no ${statistic}; ask for median, p90, p95 or p99`,
          );
        return { kind: 'request time', statistic };
      }
      const { field, key } = this.readField();
      if (field !== 'attributes') throw new BadQuestion(`${statistic} is told of attributes, such as attributes.tiles, or of request time`);
      const isOfSessions = this.take('of sessions');
      if (!isOfSessions) this.take('of reports');
      return { kind: 'attribute', statistic, attribute: key, of: isOfSessions ? 'sessions' : 'reports' };
    }
    const count = this.readOne(countNames, 'something to count');
    const before = this.at;
    if (!this.take('per')) return { kind: 'count', count };
    this.take('1000');
    const per = this.takeOne(countNames);
    if (per) return { kind: 'rate', count, per };
    this.at = before;
    return { kind: 'count', count };
  }

  private readSplits(): Split[] {
    const splits: Split[] = [];
    do {
      const split = this.readField();
      if (!splits.some((one) => one.field === split.field && one.key === split.key)) splits.push(split);
    } while (this.take(',') || this.take('and'));
    if (splits.length > mostSplits) throw new BadQuestion(`an answer is divided by ${mostSplits} fields at most`);
    return splits;
  }

  private readField(): Split {
    const found = fieldsByWords.find(({ words }) => this.take(words));
    if (found) return { field: found.field, key: '' };
    const isFlag = this.take('flag');
    const word = this.words[this.at];
    if (word === undefined) throw new BadQuestion('a field is missing at the end');
    this.at++;
    const [, map, plain, quoted] = /^(?:(flags|attributes)\.)?(?:([\w.-]+)|("(?:[^"\\]|\\.)*"))$/.exec(word) ?? [];
    const key = plain ?? (quoted === undefined ? undefined : unquoted(quoted));
    if (!key || key.length > 200 || (!map && !isFlag))
      throw new BadQuestion(`"${word.slice(0, 60)}" is no field to divide by; there are ${splitFields.join(', ')}`);
    return { field: isFlag ? 'flags' : (map as FieldName), key };
  }

  private readOne<Name extends string>(names: readonly Name[], what: string): Name {
    const found = this.takeOne(names);
    if (found) return found;
    throw new BadQuestion(`"${this.rest()}" is not ${what}; there are ${names.join(', ')}`);
  }

  private takeOne<Name extends string>(names: readonly Name[]): Name | undefined {
    return namesOf(names).find((name) => this.take(name));
  }

  /** Goes past some words when they come next, whatever their case. */
  private take(words: string): boolean {
    const wanted = words.split(' ');
    if (!wanted.every((word, at) => this.words[this.at + at]?.toLowerCase() === word)) return false;
    this.at += wanted.length;
    return true;
  }

  private rest = (): string => this.words.slice(this.at).join(' ').slice(0, 60);
}

function unquoted(text: string): string | undefined {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}

/** A field as a question names it: `os.version`, `flags.night-map`, `attributes."hide name"`. */
export const printField = ({ field, key }: Split): string =>
  key === '' ? field : `${field}.${/^[\w.-]+$/.test(key) ? key : JSON.stringify(key)}`;

/** A measure as a question names it. */
export function printMeasure(measure: Measure): string {
  switch (measure.kind) {
    case 'count':
      return measure.count;
    case 'rate':
      return `${measure.count} per 1000 ${measure.per}`;
    case 'crash-free':
      return measure.name;
    case 'request time':
      return `${measure.statistic} of ${requestTime}`;
    case 'attribute':
      return `${measure.statistic} of ${printField({ field: 'attributes', key: measure.attribute })}${measure.of === 'sessions' ? ' of sessions' : ''}`;
  }
}

/** Prints a question such that `parseQuestion` reads the same. */
export function printQuestion({ measure, splits, every, chart }: Question): string {
  return [
    printMeasure(measure),
    ...(splits.length > 0 ? [`by ${splits.map(printField).join(', ')}`] : []),
    ...(every === null ? [] : [`per ${every}`]),
    ...(chart === null ? [] : [`as ${chart}`]),
  ].join(' ');
}
