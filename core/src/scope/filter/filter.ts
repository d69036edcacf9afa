import { type FieldName, fieldsWhere } from '../../fields/fields.ts';

/** A filter as a tree; positions are offsets into the text it was read from. */
export type Filter =
  | { readonly kind: 'and' | 'or'; readonly parts: readonly Filter[] }
  | { readonly kind: 'not'; readonly part: Filter }
  | Restriction
  | { readonly kind: 'text'; readonly text: string; readonly at: number };

/** One field against one value. */
export interface Restriction {
  readonly kind: 'restriction';
  /** `os.version` is two parts; what follows `flags` or `attributes` is one, dots and all. */
  readonly field: FieldName;
  /** Name of the flag or attribute; null for other fields, and for the flags or attributes as a whole. */
  readonly key: string | null;
  readonly comparator: Comparator;
  readonly value: string;
  readonly at: number;
}

export const comparators = ['<=', '>=', '!=', '<', '>', '=', ':'] as const;
export type Comparator = (typeof comparators)[number];

/** The fields that a bare word is looked for in. */
export const searchedFields: readonly FieldName[] = fieldsWhere(({ isSearched }) => isSearched);

/** Every restriction of a filter, in order of appearance. */
export function restrictionsOf(filter: Filter | null): Restriction[] {
  if (filter === null) return [];
  if (filter.kind === 'restriction') return [filter];
  if (filter.kind === 'not') return restrictionsOf(filter.part);
  return filter.kind === 'text' ? [] : filter.parts.flatMap(restrictionsOf);
}

/** The conditions that must all hold, each of which can be taken out alone. */
export const conditionsOf = (filter: Filter | null): readonly Filter[] =>
  filter === null ? [] : filter.kind === 'and' ? filter.parts : [filter];

/** A filter of conditions that must all hold; null when there are none. */
export function allOf(conditions: readonly Filter[]): Filter | null {
  const flat = conditions.flatMap((one) => (one.kind === 'and' ? one.parts : [one]));
  return flat.length > 1 ? { kind: 'and', parts: flat } : (flat[0] ?? null);
}
