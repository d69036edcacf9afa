import type { FieldName } from '@rough-ember/core/fields/fields';
import type { Filter } from '@rough-ember/core/scope/filter/filter';
import { allOf, conditionsOf } from '@rough-ember/core/scope/filter/filter';
import { printFilter } from '@rough-ember/core/scope/filter/print-filter';
import type { Scope } from '@rough-ember/core/scope/scope';
import { createContext, useContext } from 'react';

/** The scope of the screen, for whatever is shown to be clicked into it or out of it. */
export interface ScopeHolder {
  readonly scope: Scope;
  readonly appSlug: string;
  change(scope: Scope): void;
}

export const ScopeContext = createContext<ScopeHolder | null>(null);
export const useScope = (): ScopeHolder | null => useContext(ScopeContext);

/** The condition that a field has a value. */
export const hasValue = (field: FieldName, key: string, value: string): Filter => ({
  kind: 'restriction',
  field,
  key: key === '' ? null : key,
  comparator: field === 'trail' ? ':' : '=',
  value,
  at: 0,
});

/** A scope with one more condition; one that is there already is not said twice. */
export function withCondition(scope: Scope, condition: Filter): Scope {
  const before = conditionsOf(scope.filter).filter((one) => printFilter(one) !== printFilter(condition));
  return { ...scope, filter: allOf([...before, condition]) };
}

/** A scope with one condition taken out, or another in its place. */
export function replaceCondition(scope: Scope, place: number, condition: Filter | null): Scope {
  const conditions = conditionsOf(scope.filter).flatMap((one, at) => (at === place ? (condition ?? []) : one));
  return { ...scope, filter: allOf(conditions) };
}
