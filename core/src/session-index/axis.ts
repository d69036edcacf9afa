import { meaningOf } from '../fields/fields.ts';
import { versionSortKey } from '../version/version-order.ts';
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
  const weights = index.weightsOf(column);
  const weightOf = (code: number) => weights[code] as number;
  const codes = column.dictionary.map((_, code) => code).slice(1);
  const groups = isOrdered ? sameVersions(codes, word, weightOf) : codes.sort((a, b) => weightOf(b) - weightOf(a)).map((code) => [code]);
  const named = groups.length <= most ? groups : isOrdered ? groups.slice(-most) : groups.slice(0, most);
  const places = [[notTold], ...named];
  const isCut = named.length < groups.length;
  const placeOf = new Int32Array(column.dictionary.length).fill(places.length);
  places.forEach((group, place) => {
    for (const code of group) placeOf[code] = place;
  });
  return { values: [...places.map(([code]) => word(code as number)), ...(isCut ? [otherValues] : [])], codes: column.codes, placeOf };
}

/** Versions in their order, names that mean the same together (`v4.3`, `4.3.0`), the commonest name first. */
function sameVersions(codes: readonly number[], word: (code: number) => string, weightOf: (code: number) => number): number[][] {
  const groups = new Map<string, number[]>();
  for (const code of codes) {
    const key = versionSortKey(word(code));
    const known = groups.get(key);
    if (known) known.push(code);
    else groups.set(key, [code]);
  }
  return [...groups].sort(([a], [b]) => (a < b ? -1 : 1)).map(([, group]) => group.sort((a, b) => weightOf(b) - weightOf(a)));
}
