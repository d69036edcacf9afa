import type { Answer, AnswerGroup } from '@rough-ember/core/ask/answer';
import { reportKinds } from '@rough-ember/core/report/report-kinds';
import { allOf, type Filter } from '@rough-ember/core/scope/filter/filter';
import type { Scope } from '@rough-ember/core/scope/scope';
import { notToldValue, otherValues } from '@rough-ember/core/session-index/axis';
import { hasValue, withCondition } from '../scope/scope-context';

type Splits = Answer['splits'];

/** What one value of a field asks of reports; null for others, which have no value in common. */
function conditionOf({ field, key }: Splits[number], value: string): Filter | null {
  if (value === otherValues) return null;
  if (value !== notToldValue) return hasValue(field, key, value);
  const told: Filter = { kind: 'restriction', field, key: key === '' ? null : key, comparator: ':', value: '*', at: 0 };
  return { kind: 'not', part: told };
}

/** A scope narrowed to what a group has; null where it stands for several values. */
export function scopeOfGroup(scope: Scope, splits: Splits, { places }: Pick<AnswerGroup, 'places'>): Scope | null {
  let narrowed = scope;
  for (const [at, place] of places.entries()) {
    const split = splits[at] as Splits[number];
    const value = split.values[place] as string;
    const kind = split.field === 'kind' ? reportKinds.find((one) => one === value) : undefined;
    const condition = conditionOf(split, value);
    if (condition === null) return null;
    if (kind) narrowed = { ...narrowed, kinds: [kind] };
    else if (split.field === 'version' && value !== notToldValue) narrowed = { ...narrowed, versions: { match: 'only', version: value } };
    else narrowed = withCondition(narrowed, condition);
  }
  return narrowed;
}

/** A scope without what a group has; null where it stands for several values. */
export function scopeWithoutGroup(scope: Scope, splits: Splits, { places }: Pick<AnswerGroup, 'places'>): Scope | null {
  const conditions = places.map((place, at) => conditionOf(splits[at] as Splits[number], splits[at]?.values[place] ?? ''));
  const all = allOf(conditions.filter((one) => one !== null));
  return all === null || conditions.includes(null) ? null : withCondition(scope, { kind: 'not', part: all });
}
