import type { Answer, AnswerGroup } from '@rough-ember/core/ask/answer';
import { wordSplitValue } from '@rough-ember/core/ask/answer-words';
import { mostSeries, shadeOf } from './series';

const mostRows = 14;

/** Values of two fields: those of the first as rows, of the second as colours. */
export function pairsOf(answer: Answer) {
  const [down, ...others] = answer.splits;
  const order = (at: number) => [...new Set(answer.groups.map(({ places }) => places[at] as number))];
  const rows = order(0).slice(0, mostRows);
  const across = new Map<string, AnswerGroup>();
  for (const group of answer.groups) across.set(group.places.slice(1).join(), group);
  const names = [...across].slice(0, mostSeries);
  const groupOf = new Map(answer.groups.map((group) => [group.places.join(), group]));
  const isDrawn = ({ places: [first, ...rest] }: AnswerGroup) =>
    rows.includes(first as number) && names.some(([name]) => name === rest.join());
  return {
    /** Parts that there is no room for. */
    left: answer.groups.filter((group) => !isDrawn(group)).length,
    rows: rows.map((place) => ({
      name: wordSplitValue(down as Answer['splits'][number], down?.values[place] ?? ''),
      groups: names.map(([rest]) => groupOf.get(`${place},${rest}`)),
    })),
    colours: names.map(([, { places }], at) => ({
      name: places
        .slice(1)
        .map((place, which) => wordSplitValue(others[which] as Answer['splits'][number], others[which]?.values[place] ?? ''))
        .join(' · '),
      shade: shadeOf(at),
    })),
  };
}
