import type { Answer, AnswerGroup } from '@rough-ember/core/ask/answer';
import { nameOfGroup } from '@rough-ember/core/ask/answer-words';
import type { Figure } from '@rough-ember/core/ask/asked';
import { meaningOf } from '@rough-ember/core/fields/fields';
import { notToldValue, otherValues } from '@rough-ember/core/session-index/axis';

/** One line or colour of a chart. */
export interface Series {
  readonly name: string;
  readonly group: AnswerGroup;
  readonly shade: string;
  /** The pattern of its line, so that colour is not all that tells it from others. */
  readonly dashes: string;
}

/** From the quietest to the one that is looked at first. */
const shades = [
  'var(--ember-4)',
  'var(--ember-3)',
  'var(--cool)',
  'var(--ember-2)',
  'var(--ink-faint)',
  'var(--ink)',
  'var(--ember-1)',
  'var(--line-strong)',
];
const patterns = ['0', '0', '0', '7 3', '2 3', '9 3 2 3', '7 3', '2 3'];

export const mostSeries = shades.length;
export const shadeOf = (at: number): string => shades[at % shades.length] as string;

/** What a chart of lines or colours shows: of versions the newest, of others the largest; the rest stands in the table. */
export function seriesOf(answer: Answer, most = mostSeries): Series[] {
  const [first] = answer.splits;
  const isVersion = first !== undefined && answer.splits.length === 1 && meaningOf(first.field).order === 'version';
  const shown = isVersion ? answer.groups.slice(-most).reverse() : answer.groups.slice(0, most);
  return shown.map((group, at) => {
    const value = first?.values[group.places[0] ?? 0];
    const isRest = answer.splits.length === 1 && (value === notToldValue || value === otherValues);
    return {
      name: nameOfGroup(answer, group),
      group,
      shade: isRest ? 'var(--line-strong)' : shadeOf(at),
      dashes: isRest ? '2 3' : (patterns[at] as string),
    };
  });
}

/** How much of the largest value a value is, in five steps from nothing to most, for what is shaded. */
export function levelOf(value: number | null, largest: number): 0 | 1 | 2 | 3 | 4 | null {
  if (value === null) return null;
  if (value <= 0 || largest <= 0) return 0;
  return Math.min(4, 1 + Math.floor((4 * value) / (largest * 1.0001))) as 1 | 2 | 3 | 4;
}

export const largestOf = (figures: readonly (Figure | null)[]): number => figures.reduce((most, one) => Math.max(most, one?.value ?? 0), 0);
