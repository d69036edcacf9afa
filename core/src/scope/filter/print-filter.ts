import { wordField } from '../../fields/fields.ts';
import type { Filter, Restriction } from './filter.ts';

/** Prints a filter so that it reads back as the same tree. */
export function printFilter(filter: Filter | null): string {
  if (filter === null) return '';
  switch (filter.kind) {
    case 'restriction':
      return printRestriction(filter);
    case 'text':
      return printValue(filter.text, { isBare: true });
    case 'not':
      return `NOT ${grouped(filter.part, ['and', 'or', 'not'])}`;
    case 'and':
      // OR binds tighter than AND in this grammar, which few people expect; parentheses say it.
      return filter.parts.map((part) => grouped(part, ['and', 'or'])).join(' AND ');
    case 'or':
      return filter.parts.map((part) => grouped(part, ['and', 'or'])).join(' OR ');
  }
}

const grouped = (filter: Filter, kinds: readonly Filter['kind'][]): string =>
  kinds.includes(filter.kind) ? `(${printFilter(filter)})` : printFilter(filter);

function printRestriction({ field, key, comparator, value }: Restriction): string {
  const name = key === null ? field : `${field}.${key.split('.').map(printName).join('.')}`;
  return comparator === ':' ? `${name}:${printValue(value)}` : `${name} ${comparator} ${printValue(value)}`;
}

const plain = /^[^\s()<>=!:,."'-][^\s()<>=!:,."']*$/;
const keywords = ['AND', 'OR', 'NOT'];
const quote = (text: string): string => `"${text.replace(/["\\]/g, '\\$&')}"`;
const printName = (name: string): string => (plain.test(name) && !keywords.includes(name) ? name : quote(name));

/** Dots need no quotes between words; a bare text with one would read as a field. */
const printValue = (value: string, { isBare = false } = {}): string =>
  (!isBare && /^[^\s()<>=!:,."'-]+(\.[^\s()<>=!:,."'-]+)*$/.test(value)) || plain.test(value)
    ? keywords.includes(value)
      ? quote(value)
      : value
    : quote(value);

const words: Readonly<Record<Restriction['comparator'], string>> = {
  '=': 'is',
  '!=': 'is not',
  '<': 'before',
  '<=': 'up to',
  '>': 'after',
  '>=': 'from',
  ':': 'has',
};
const numberWords: Readonly<Partial<Record<Restriction['comparator'], string>>> = {
  '<': 'under',
  '<=': 'at most',
  '>': 'over',
  '>=': 'at least',
};

/** A condition as the scope sentence says it: `flag night-map is on`. */
export function wordCondition(filter: Filter): string {
  switch (filter.kind) {
    case 'text':
      return `“${filter.text}” occurs`;
    case 'not':
      return `not ${filter.part.kind === 'and' || filter.part.kind === 'or' ? `(${wordCondition(filter.part)})` : wordCondition(filter.part)}`;
    case 'and':
    case 'or':
      return filter.parts
        .map((part) => (part.kind === 'and' || part.kind === 'or' ? `(${wordCondition(part)})` : wordCondition(part)))
        .join(` ${filter.kind} `);
    case 'restriction':
      return wordRestriction(filter);
  }
}

function wordRestriction({ field, key, comparator, value }: Restriction): string {
  const name = wordField(field, key);
  if (field === 'flags' && key === null) return `flag ${value} is there`;
  if (field === 'attributes' && key === null) return `${value} is told`;
  if (value === '*') return comparator === '!=' ? `${name} is not told` : `${name} is told`;
  return `${name} ${(field === 'attributes' && numberWords[comparator]) || words[comparator]} ${value}`;
}
