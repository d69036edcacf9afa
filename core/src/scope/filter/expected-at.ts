import { type FieldName, fieldNames, meaningOf } from '../../fields/fields.ts';
import { readTokens, type Token } from './tokens.ts';

/** What may be written at a place of a filter, and the stretch of text that choosing it replaces. */
export type Expected = { readonly from: number; readonly to: number; readonly typed: string } & (
  | { readonly kind: 'field' }
  | { readonly kind: 'key'; readonly field: FieldName }
  | { readonly kind: 'value'; readonly field: FieldName; readonly key: string | null }
);

/** Says what the completion should offer at the caret; a filter that is not finished is what it is made for. */
export function expectedAt(text: string, caret: number): Expected {
  const before = readTokens(text.slice(0, caret));
  // An open quotation mark is a value in the making.
  const open = before.ok ? null : before.problem.at;
  const tokens = open === null ? (before.ok ? before.value : []) : tokensOf(text.slice(0, open));
  const last = tokens.at(-1);
  const touches = open !== null || (last !== undefined && last.end === caret);
  const begins = open === null && touches && last?.kind === 'word' ? wordStart(tokens) : tokens.length;
  const from = open ?? (begins < tokens.length ? (tokens[begins] as Token).at : caret);
  const typed = open === null ? text.slice(from, caret) : text.slice(from + 1, caret);
  const left = tokens.slice(0, begins);
  const sign = left.at(-1);
  const place = { from, to: caret, typed };
  if (sign?.kind === 'comparator') {
    const named = memberBefore(left.slice(0, -1));
    if (named) {
      const map = meaningOf(named.field).isMap && named.key === null;
      return map ? { kind: 'key', field: named.field, ...place } : { kind: 'value', ...named, ...place };
    }
  }
  const dotted = typed.indexOf('.') >= 0 ? typed.slice(0, typed.indexOf('.')) : null;
  const map = fieldNames.find((name) => name === dotted && meaningOf(name).isMap);
  if (map) return { kind: 'key', field: map, from: from + map.length + 1, to: caret, typed: typed.slice(map.length + 1) };
  return { kind: 'field', ...place };
}

const tokensOf = (text: string): Token[] => {
  const tokens = readTokens(text);
  return tokens.ok ? tokens.value : [];
};

const touchesNext = (tokens: readonly Token[], at: number): boolean => !(tokens[at] as Token).spaced;

/** Where the word that ends the tokens begins, parts joined by dots being one. */
function wordStart(tokens: readonly Token[]): number {
  let at = tokens.length - 1;
  while (at > 0 && touchesNext(tokens, at) && ['word', 'string', '.'].includes((tokens[at - 1] as Token).kind)) at--;
  return at;
}

function memberBefore(tokens: readonly Token[]): { field: FieldName; key: string | null } | null {
  if (tokens.length === 0) return null;
  const parts = tokens.slice(wordStart(tokens)).filter((token) => token.kind !== '.');
  const name = parts.map((part) => part.text).join('.');
  const field = fieldNames.find((one) => one === name);
  if (field) return { field, key: null };
  const map = fieldNames.find((one) => one === parts[0]?.text && meaningOf(one).isMap);
  return map
    ? {
        field: map,
        key: parts
          .slice(1)
          .map((part) => part.text)
          .join('.'),
      }
    : null;
}
