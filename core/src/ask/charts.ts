import { countsOf, isStatistic, type Measure } from './measures.ts';
import type { ChartName, Question } from './question.ts';

/** Whether the parts of what is counted add up to all of it. People do not: somebody is in several parts. */
export function addsUp(measure: Measure): boolean {
  if (isStatistic(measure)) return measure.statistic === 'sum';
  const { count, per } = countsOf(measure);
  return per === null && !/people|cases/.test(count);
}

/** Whether each part of an answer has a colour of its own in its chart. */
export function hasColours(question: Question): boolean {
  const { splits, every } = question;
  const chart = chartOf(question);
  return splits.length > 0 && (chart === 'ring' || (every !== null && chart !== 'number' && chart !== 'table'));
}

/** How the answer to a question can be drawn, the one that suits it best first. */
export function chartsOf({ measure, splits, every }: Question): ChartName[] {
  const parts: ChartName[] = addsUp(measure) && splits.length > 0 ? ['stacked bars', 'shares'] : [];
  if (every !== null) {
    const flow: ChartName[] = splits.length === 0 && addsUp(measure) ? ['bars', 'lines', 'areas'] : ['lines', 'areas', 'bars'];
    return [...flow, ...parts, ...(splits.length === 0 ? ['number' as const] : []), 'table'];
  }
  const compared: ChartName[] = ['before and after', 'table'];
  const [first] = splits;
  if (!first) return [...(measure.kind === 'attribute' ? ['histogram' as const] : []), 'number', ...compared];
  if (splits.length === 1)
    return ['bars', ...(addsUp(measure) ? ['ring' as const] : []), ...(first.field === 'country' ? ['map' as const] : []), ...compared];
  return splits.length === 2 ? ['matrix', 'bars', ...parts, ...compared] : ['table', 'bars'];
}

/** The chart of a question: the one that was asked for where it can be drawn, else the one that suits. */
export function chartOf(question: Question): ChartName {
  const possible = chartsOf(question);
  return possible.find((one) => one === question.chart) ?? (possible[0] as ChartName);
}
