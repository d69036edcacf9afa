import type { CaseList } from '@rough-ember/server/desk/case-list';
import { useState } from 'react';
import { type RequestProblem, request } from '../client/api';
import { useAttempt } from '../client/use-attempt';

export interface MarkedCasesHolder {
  readonly refs: readonly string[];
  /** Every case of the scope is meant, also those that have not come. */
  readonly isWholeScope: boolean;
  isMarked(ref: string): boolean;
  /** Marks a case, or takes its mark away. */
  toggle(ref: string): void;
  markWholeScope(): void;
  clear(): void;
  /** The case that the others are merged into; null where there are not several, or nobody knows which. */
  readonly mergeTarget: string | null;
  /** Somebody is asked whether to merge. */
  readonly asksMerge: boolean;
  askMerge(asks: boolean): void;
  merge(): Promise<void>;
  readonly problem: RequestProblem | null;
}

/** The cases that somebody marked to do something to all of them. */
export function useMarkedCases(appSlug: string, list: CaseList): MarkedCasesHolder {
  const [refs, setRefs] = useState<readonly string[]>([]);
  const [isWholeScope, setWholeScope] = useState(false);
  const [asksMerge, setAsksMerge] = useState(false);
  const { problem, attempt } = useAttempt();
  const clear = () => {
    setRefs([]);
    setWholeScope(false);
  };
  // The list is of any length, so of what is marked only the part in view is known by its reports.
  const largest = list.cases.find((item) => refs.includes(item.ref))?.ref ?? refs[0] ?? null;
  const mergeTarget = refs.length > 1 && !isWholeScope ? largest : null;
  const merge = async () => {
    setAsksMerge(false);
    if (mergeTarget === null) return;
    const body = { into: mergeTarget, cases: [...refs] };
    if (await attempt(() => request('POST /apps/{app}/cases/merge', { app: appSlug }, { body }))) clear();
  };
  return {
    refs,
    isWholeScope,
    isMarked: (ref) => isWholeScope || refs.includes(ref),
    toggle: (ref) => setRefs((before) => (before.includes(ref) ? before.filter((one) => one !== ref) : [...before, ref])),
    markWholeScope: () => setWholeScope(true),
    clear,
    mergeTarget,
    asksMerge: asksMerge && mergeTarget !== null,
    askMerge: setAsksMerge,
    merge,
    problem,
  };
}
