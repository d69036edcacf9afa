import type { Answer } from '@rough-ember/core/ask/answer';
import { wordSplitValue } from '@rough-ember/core/ask/answer-words';
import type { Figure } from '@rough-ember/core/ask/asked';

type Line = (string | number | null)[];

/** An answer as lines of values, the names of its columns first: one for each part, or for each part in each step of time. */
export function linesOfAnswer({ splits, steps, groups }: Answer): Line[] {
  const figure = ({ value, low, high, count, per }: Figure): Line => [value, low, high, count, per];
  const names = splits.map((split) => (split.key === '' ? split.field : `${split.field}.${split.key}`));
  const head = [
    ...names,
    ...(steps ? [steps.every === 'day since release' ? 'days since release' : 'from'] : []),
    'value',
    'low',
    'high',
    'count',
    'per',
  ];
  const own = (places: readonly number[]) =>
    places.map((place, at) => wordSplitValue(splits[at] as Answer['splits'][number], splits[at]?.values[place] ?? ''));
  if (!steps) return [head, ...groups.map(({ places, sum }) => [...own(places), ...figure(sum)])];
  const wordStart = (start: number) => (steps.every === 'day since release' ? start : new Date(start).toISOString());
  return [
    head,
    ...groups.flatMap(({ places, course }) =>
      steps.starts.map((start, step) => [
        ...own(places),
        wordStart(start),
        ...(course?.[step] ? figure(course[step]) : [null, null, null, null, null]),
      ]),
    ),
  ];
}
