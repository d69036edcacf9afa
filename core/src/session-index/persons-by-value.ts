import { listSeparator, type SessionField } from './person-day.ts';
import { mark, type SessionIndex, sampleShare } from './session-index.ts';
import { type DaySpan, rowsThatPass, type Sampling } from './session-rows.ts';
import { type SessionScope, sessionTests } from './session-test.ts';
import { notTold } from './value-column.ts';

/** How many persons of a scope have each value, whatever it is of. */
export interface PersonsByValue {
  readonly sampling: Sampling;
  readonly persons: number;
  readonly fields: readonly (SessionField & { readonly values: readonly { readonly value: string; readonly persons: number }[] })[];
}

/** Counts the persons of a scope by every value of every field. A list counts for each of its elements. */
export function countPersonsByValue(
  index: SessionIndex,
  scope: SessionScope,
  span: DaySpan,
  { sampling = 'everybody' }: { sampling?: Sampling } = {},
): PersonsByValue {
  index.ready();
  const marks = index.column('marks');
  const personOf = index.column('personOf') as Int32Array;
  const check = { ...sessionTests(index, scope), ...span };
  const rows = rowsThatPass(index, sampling, check).filter((row) => ((marks[row] as number) & mark.unknownPerson) === 0);
  const times = sampling === 'sample' ? sampleShare : 1;
  let persons = 0;
  let lastPerson = -1;
  for (let at = 0; at < rows.length; at++) {
    const person = personOf[rows[at] as number] as number;
    if (person === lastPerson) continue;
    lastPerson = person;
    persons++;
  }
  const fields = index.fields.map((column) => {
    const names: string[] = [];
    const numberOf = new Map<string, number>();
    const elementsOf = column.dictionary.map((value, code) =>
      code === notTold
        ? []
        : value.split(listSeparator).map((element) => {
            const known = numberOf.get(element) ?? names.push(element) - 1;
            numberOf.set(element, known);
            return known;
          }),
    );
    const counts = new Uint32Array(names.length);
    const last = new Int32Array(names.length).fill(-1);
    for (let at = 0; at < rows.length; at++) {
      const row = rows[at] as number;
      const elements = elementsOf[column.codes[row] ?? notTold] as number[];
      for (let place = 0; place < elements.length; place++) {
        const element = elements[place] as number;
        if (last[element] === personOf[row]) continue;
        last[element] = personOf[row] as number;
        counts[element] = (counts[element] as number) + 1;
      }
    }
    return { ...column.field, values: names.map((value, at) => ({ value, persons: times * (counts[at] as number) })) };
  });
  return { sampling, persons: times * persons, fields };
}
