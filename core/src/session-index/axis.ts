import { meaningOf } from '../fields/fields.ts';
import { compareVersions } from '../version/version-order.ts';
import type { Column } from './gather.ts';
import { listSeparator, type SessionField } from './person-day.ts';
import type { SessionIndex } from './session-index.ts';
import { notTold } from './value-column.ts';

/** What the value of sessions is called that do not tell a field. */
export const notToldValue = '';

/** The values of a field in the order that people expect, and how a row is told its place among them: `placeOf[codes[row]]`. */
export interface Axis {
  readonly values: readonly string[];
  readonly codes: Column;
  readonly placeOf: Int32Array;
}

/** One value for every row, whatever its marks. */
export const oneValue = (index: SessionIndex): Axis => ({
  values: [notToldValue],
  codes: index.column('marks'),
  placeOf: new Int32Array(256),
});

/** What everything is called that has none of the values an axis names. */
export const otherValues = '\u2026';

/**
 * The axis of a field. Of more values than `most` it names those that matter: of versions the newest, of others the commonest;
 * the rest is counted together, at the end.
 */
export function axisOf(index: SessionIndex, split: SessionField | null, most: number): Axis {
  const column = split && index.valuesOf(split);
  if (!split || !column) return oneValue(index);
  const word = (code: number) => (code === notTold ? notToldValue : (column.dictionary[code] as string).replaceAll(listSeparator, ', '));
  const isOrdered = meaningOf(split.field).order === 'version';
  const inOrder = column.dictionary.map((_, code) => code).slice(1);
  if (isOrdered) inOrder.sort((a, b) => compareVersions(word(a), word(b)));
  else {
    const weights = index.weightsOf(column);
    inOrder.sort((a, b) => (weights[b] as number) - (weights[a] as number));
  }
  const named = inOrder.length <= most ? inOrder : isOrdered ? inOrder.slice(-most) : inOrder.slice(0, most);
  const places = [notTold, ...named];
  const isCut = named.length < inOrder.length;
  const placeOf = new Int32Array(column.dictionary.length).fill(places.length);
  places.forEach((code, place) => {
    placeOf[code] = place;
  });
  return { values: [...places.map(word), ...(isCut ? [otherValues] : [])], codes: column.codes, placeOf };
}
