import { none, type ReportIndex } from './report-index.ts';

export interface SimilarCase {
  readonly caseId: number;
  /** From 0 to 1: the weight of the functions that both stacks have, against that of all functions that one of them has. */
  readonly likeness: number;
  /** Functions that both have, the rarest first. */
  readonly shared: readonly string[];
}

const mostSimilar = 5;
const leastLikeness = 0.35;
const shownFunctions = 4;

/** Functions as numbers, for each stack that occurs; terms never change, so they are taken apart once. */
class StackTokens {
  readonly names: string[] = [];
  private readonly numbers = new Map<string, number>();
  private readonly ofTerm = new Map<number, readonly number[]>();

  of(index: ReportIndex, term: number): readonly number[] {
    const known = this.ofTerm.get(term);
    if (known) return known;
    const functions = new Set((index.terms[term]?.value ?? '').split('\n'));
    const tokens = [...functions].map((name) => {
      const number = this.numbers.get(name) ?? this.names.push(name) - 1;
      this.numbers.set(name, number);
      return number;
    });
    this.ofTerm.set(term, tokens);
    return tokens;
  }
}

const tokensOf = new WeakMap<ReportIndex, StackTokens>();

/**
 * The cases whose stacks are most like that of a case: weighted Jaccard likeness of the functions of the last report of each,
 * where a function that few cases have weighs more (inverse document frequency), so that what every stack ends in tells nothing.
 */
export function similarCases(index: ReportIndex, caseId: number): SimilarCase[] {
  const tokens = tokensOf.get(index) ?? new StackTokens();
  tokensOf.set(index, tokens);
  const stacks = new Map<number, readonly number[]>();
  for (let of = 0; of < index.caseCount; of++) {
    const rows = index.rowsOfCase(of);
    const term = rows.length === 0 ? none : stackOf(index, rows[rows.length - 1] as number);
    if (term !== none) stacks.set(of, tokens.of(index, term));
  }
  const own = stacks.get(index.findCase(caseId));
  if (!own) return [];
  const cases = new Uint32Array(tokens.names.length);
  for (const stack of stacks.values()) for (const token of stack) cases[token] = (cases[token] as number) + 1;
  const weight = Float64Array.from(cases, (count) => Math.log(1 + stacks.size / Math.max(1, count)));
  const sum = (stack: readonly number[]) => stack.reduce((total, token) => total + (weight[token] as number), 0);
  const isOwn = new Uint8Array(tokens.names.length);
  for (const token of own) isOwn[token] = 1;
  const ownWeight = sum(own);

  const similar: SimilarCase[] = [];
  for (const [of, stack] of stacks) {
    const other = index.caseIds[of] as number;
    if (other === caseId) continue;
    const shared = stack.filter((token) => isOwn[token] === 1);
    if (shared.length === 0) continue;
    const common = sum(shared);
    const likeness = common / (ownWeight + sum(stack) - common);
    if (likeness < leastLikeness) continue;
    const rarest = [...shared].sort((a, b) => (weight[b] as number) - (weight[a] as number)).slice(0, shownFunctions);
    similar.push({ caseId: other, likeness, shared: rarest.map((token) => tokens.names[token] as string) });
  }
  return similar.sort((a, b) => b.likeness - a.likeness).slice(0, mostSimilar);
}

const stackOf = (index: ReportIndex, row: number): number =>
  index.termsOfRow(row).find((term) => index.terms[term]?.field === 'stack') ?? none;
