import { meaningOf } from '../fields/fields.ts';
import { normaliseMessage } from '../grouping/normalise-message.ts';
import { reportKinds } from '../report/report-kinds.ts';
import { type Comparator, type Filter, type Restriction, searchedFields } from '../scope/filter/filter.ts';
import { isNumber } from '../scope/filter/parse-filter.ts';
import { printFilter } from '../scope/filter/print-filter.ts';
import { compareVersions } from '../version/version-order.ts';
import { fieldKey, type ReportIndex } from './report-index.ts';
import type { Term } from './report-terms.ts';

/** 1 for each row that fulfils something. */
export type RowMask = Uint8Array;

const remembered = new WeakMap<ReportIndex, { revision: number; readonly masks: Map<string, RowMask> }>();
const mostRemembered = 8;

/**
 * The rows that fulfil a filter. Each of its conditions is asked of the terms, not of the reports: its rows are those of the
 * terms that fulfil it. What was found is remembered until the index changes, since a screen asks several things of one scope.
 */
export function matchFilter(index: ReportIndex, filter: Filter): RowMask {
  const known = remembered.get(index);
  const memory = known?.revision === index.revision ? known : { revision: index.revision, masks: new Map<string, RowMask>() };
  remembered.set(index, memory);
  const name = printFilter(filter);
  const mask = memory.masks.get(name) ?? maskOf(index, filter);
  memory.masks.delete(name);
  memory.masks.set(name, mask);
  const [oldest] = memory.masks.keys();
  if (memory.masks.size > mostRemembered) memory.masks.delete(oldest as string);
  return mask;
}

function maskOf(index: ReportIndex, filter: Filter): RowMask {
  switch (filter.kind) {
    case 'and':
    case 'or': {
      const [first, ...rest] = filter.parts.map((part) => maskOf(index, part)) as [RowMask, ...RowMask[]];
      for (const mask of rest)
        if (filter.kind === 'and') for (let row = 0; row < first.length; row++) first[row] = (first[row] as number) & (mask[row] as number);
        else for (let row = 0; row < first.length; row++) first[row] = (first[row] as number) | (mask[row] as number);
      return first;
    }
    case 'not':
      return inverted(maskOf(index, filter.part));
    default: {
      const mask = maskOfLeaf(index, filter);
      return filter.kind === 'restriction' && filter.comparator === '!=' ? inverted(mask) : mask;
    }
  }
}

function inverted(mask: RowMask): RowMask {
  for (let row = 0; row < mask.length; row++) mask[row] = 1 - (mask[row] as number);
  return mask;
}

function maskOfLeaf(index: ReportIndex, leaf: Extract<Filter, { kind: 'text' | 'restriction' }>): RowMask {
  const mask = new Uint8Array(index.rows);
  if (leaf.kind === 'restriction' && leaf.field === 'kind') {
    const isWanted = reportKinds.map((kind) => leaf.value === '*' || leaf.value === kind);
    for (let row = 0; row < mask.length; row++) if (isWanted[index.kinds.values[row] as number]) mask[row] = 1;
    return mask;
  }
  const fulfils = leaf.kind === 'text' ? textTest(leaf.text) : restrictionTest(leaf);
  for (const term of termsAsked(index, leaf))
    if (fulfils(index.terms[term] as Term)) {
      const rows = index.rowsOfTerm(term);
      for (let at = 0; at < rows.length; at++) mask[rows[at] as number] = 1;
    }
  return mask;
}

function* termsAsked(index: ReportIndex, leaf: Filter): Iterable<number> {
  // An app may have thousands of flags; a condition asks for one of them.
  if (leaf.kind === 'restriction' && (leaf.key !== null || !meaningOf(leaf.field).isMap)) {
    yield* index.termsOf.get(fieldKey(leaf.field, leaf.key ?? '')) ?? [];
    return;
  }
  for (const [, terms] of index.termsOf) {
    const { field, key } = index.terms[terms[0] as number] as Term;
    const isAsked =
      leaf.kind === 'restriction'
        ? leaf.field === field && (leaf.key === null || leaf.key === key)
        : searchedFields.some((one) => one === field);
    if (isAsked) yield* terms;
  }
}

/** Whether a text of a report holds words, whatever their case; a message also with its numbers and ids replaced. */
function textTest(text: string): (term: Term) => boolean {
  const wanted = text.toLowerCase();
  const wantedMessage = normaliseMessage(text).toLowerCase();
  return ({ field, value }) => {
    const found = value.toLowerCase();
    return found.includes(wanted) || (field === 'message' && wantedMessage !== '' && found.includes(wantedMessage));
  };
}

/** Whether a term of the field fulfils a restriction; `!=` is tested as `=`, since it is the report that must not have it. */
export function restrictionTest({ field, key, comparator, value }: Restriction): (term: Term) => boolean {
  const { isText, isMap, order } = meaningOf(field);
  if (value === '*') return () => true;
  if (isMap && key === null) return (term) => term.key === value;
  if (comparator === ':' && isText) return textTest(value);
  if (comparator === '=' || comparator === '!=' || comparator === ':') {
    const isEqual = equality(field === 'message' ? normaliseMessage(value) : value, order === 'number');
    return field === 'stack' ? (term) => term.value.split('\n').some(isEqual) : (term) => isEqual(term.value);
  }
  const holds = comparison(comparator);
  if (order === 'version') return (term) => holds(compareVersions(term.value, value));
  const number = Number(value);
  return (term) => isNumber(term.value) && holds(Number(term.value) - number);
}

const comparison = (comparator: Exclude<Comparator, '=' | '!=' | ':'>): ((difference: number) => boolean) =>
  ({
    '<': (difference: number) => difference < 0,
    '<=': (difference: number) => difference <= 0,
    '>': (difference: number) => difference > 0,
    '>=': (difference: number) => difference >= 0,
  })[comparator];

/** Equality of a value, with `*` at its start or end for anything (AIP-160, wildcards). */
function equality(wanted: string, asNumber: boolean): (value: string) => boolean {
  const open = wanted.startsWith('*');
  const close = wanted.endsWith('*');
  const part = wanted.slice(open ? 1 : 0, close ? -1 : undefined);
  if (open && close) return (value) => value.includes(part);
  if (open) return (value) => value.endsWith(part);
  if (close) return (value) => value.startsWith(part);
  const number = asNumber && isNumber(wanted) ? Number(wanted) : Number.NaN;
  return (value) => value === wanted || (isNumber(value) && Number(value) === number);
}
