import { meaningOf, wordField } from '../fields/fields.ts';
import { notToldValue, otherValues } from '../session-index/axis.ts';
import { wordFree, wordThousandth } from '../stability/comparison-words.ts';
import { wordNumber } from '../words/count.ts';
import { wordDay } from '../words/time.ts';
import type { Answer, AnswerGroup } from './answer.ts';
import type { Figure } from './asked.ts';
import { counts, countsOf, crashFree, isStatistic, type Measure } from './measures.ts';
import type { Question, StepName } from './question.ts';

/** What a measure is called in a sentence. */
export function wordMeasure(measure: Measure): string {
  if (measure.kind === 'request time') return `${measure.statistic} of the time of requests`;
  if (measure.kind === 'attribute') return `${measure.statistic} of ${measure.attribute}`;
  if (measure.kind === 'crash-free') return measure.name;
  return measure.kind === 'rate' ? `${measure.count} for 1,000 ${measure.per}` : measure.count;
}

/** What a measure means, for whoever hovers over its name. */
export function sayMeasure(measure: Measure): string {
  if (measure.kind === 'crash-free') return crashFree[measure.name].says;
  if (measure.kind === 'request time') return 'how long requests took from start to answer, within 6 %';
  if (measure.kind === 'attribute') return `of the values of ${measure.attribute} that are numbers, in ${measure.of}`;
  return counts[countsOf(measure).count].says;
}

const plain = new Intl.NumberFormat('en-GB', { maximumSignificantDigits: 4 });

/** A value of a measure, with its unit where it has one. */
export function wordValue(measure: Measure, value: number | null): string {
  if (value === null) return '–';
  switch (measure.kind) {
    case 'count':
      return wordNumber(Math.round(value));
    case 'rate':
      return wordThousandth(value);
    case 'crash-free':
      return wordFree(value / 100);
    case 'request time':
      return value < 1_000 ? `${Math.round(value)} ms` : `${(value / 1_000).toFixed(value < 10_000 ? 2 : 1)} s`;
    case 'attribute':
      return plain.format(value);
  }
}

/** From where to where a value lies, with 95 %; null where that is not known. */
export const wordInterval = (measure: Measure, { low, high }: Figure): string | null =>
  low === null || high === null ? null : `${wordValue(measure, low)} to ${wordValue(measure, high)}`;

/** What a value is made of: "14 of 734 sessions". */
export function wordCounts(measure: Measure, { count, per }: Figure): string | null {
  if (isStatistic(measure)) return `of ${wordNumber(Math.round(count))} ${measure.kind === 'request time' ? 'requests' : 'values'}`;
  const counted = countsOf(measure);
  if (counted.per === null || per === null) return null;
  return `${wordNumber(Math.round(count))} ${counted.count}, ${wordNumber(Math.round(per))} ${counted.per}`;
}

/** A value of a field, and what stands for none or for others. */
export function wordSplitValue({ field, key, gathered, called }: Answer['splits'][number], value: string): string {
  if (value === notToldValue) return meaningOf(field).isMap ? `no ${wordField(field, key)}` : `${called} not told`;
  return value === otherValues ? `${wordNumber(gathered)} others` : value;
}

/** The values of a group in a line; that of all is called so. */
export const nameOfGroup = ({ splits }: Pick<Answer, 'splits'>, { places }: Pick<AnswerGroup, 'places'>): string =>
  places.length === 0
    ? 'all'
    : places.map((place, at) => wordSplitValue(splits[at] as Answer['splits'][number], splits[at]?.values[place] ?? '')).join(' · ');

const monthFormat = new Intl.DateTimeFormat('en-GB', { month: 'short', year: 'numeric', timeZone: 'UTC' });
const hourFormat = new Intl.DateTimeFormat('en-GB', {
  day: 'numeric',
  month: 'short',
  hour: '2-digit',
  minute: '2-digit',
  timeZone: 'UTC',
});

/** When a step begins, as it stands under a chart; days since a release are numbers. */
export function wordStep(every: StepName, start: number): string {
  if (every === 'day since release') return `day ${start}`;
  if (every === 'month') return monthFormat.format(start);
  if (every === 'hour') return hourFormat.format(start);
  return wordDay(new Date(start).toISOString());
}

/** A step in full: "week from 2 Nov". */
export const wordWholeStep = (every: StepName, start: number): string =>
  every === 'week'
    ? `week from ${wordStep(every, start)}`
    : every === 'day since release'
      ? `${wordStep(every, start)} after its release`
      : wordStep(every, start);

/** The answer in words: what it is of all, and of the part that is furthest from the rest, as far as that is sure. */
export function sayAnswer(answer: Answer, { measure, splits }: Question): string {
  const { total, groups } = answer;
  const interval = wordInterval(measure, total);
  const whole = `${wordValue(measure, total.value)} ${wordMeasure(measure)} in all${interval === null ? '' : ` (${interval})`}`;
  const isGood = measure.kind === 'crash-free';
  // A rate is ranked by the end of its interval that is surely reached, so that three sessions do not stand for a device.
  const rankOf = ({ sum: { value, low, high } }: Answer['groups'][number]) => (isGood ? -(high ?? value ?? 100) : (low ?? value ?? 0));
  const valued = groups.filter(({ sum }) => sum.value !== null);
  const [first] = [...valued].sort((one, other) => rankOf(other) - rankOf(one));
  if (splits.length === 0 || !first || valued.length < 2) return whole;
  return `${whole}; ${isGood ? 'least' : 'most'} with ${nameOfGroup(answer, first)}: ${wordValue(measure, first.sum.value)}`;
}
