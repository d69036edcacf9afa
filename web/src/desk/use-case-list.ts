import type { CaseItem, CaseList } from '@rough-ember/server/desk/case-list';
import { useCallback, useEffect, useRef, useState } from 'react';
import { addressOf, type RequestProblem } from '../client/api';
import { useChanges } from '../client/use-changes';
import { useQuestions } from '../client/use-questions';

/** A list of which only the parts that were looked at are there. */
export interface LiveCaseList {
  readonly list: CaseList;
  /** The case at a place of the list; undefined when it has not come yet. */
  at(place: number): CaseItem | undefined;
  /** Asks for the parts that hold these places, where they are not there yet. */
  need(from: number, to: number): void;
  /** While it is held, changes of the app are kept back, so that no other case comes to where somebody points. */
  hold(isHeld: boolean): void;
  readonly problem: RequestProblem | null;
}

interface Pages {
  readonly parameters: string;
  readonly list: CaseList;
  readonly items: ReadonlyMap<number, CaseItem>;
}

const pageOf = (place: number, size: number): number => Math.floor(place / size) * size;

const itemsOf = (list: CaseList): [number, CaseItem][] => list.cases.map((item, at) => [list.from + at, item]);

/** The pages with a part that has just come; a list that has changed keeps no part of before, for places may have moved. */
function withPart(before: Pages, parameters: string, list: CaseList, { fresh }: { fresh: boolean }): Pages {
  const keeps = before.parameters === parameters && before.list.total === list.total && !fresh;
  const came = new Set(list.cases.map((item) => item.ref));
  // A case that moved between two looks stands once, where it was seen last.
  const kept = keeps ? [...before.items].filter(([, item]) => !came.has(item.ref)) : [];
  return { parameters, list, items: new Map([...kept, ...itemsOf(list)]) };
}

/** Does what is given at once, or when the hold ends; of what came meanwhile the last alone. */
function useHold() {
  const isHeld = useRef(false);
  const kept = useRef<(() => void) | null>(null);
  const hold = useCallback((held: boolean) => {
    isHeld.current = held;
    if (held) return;
    kept.current?.();
    kept.current = null;
  }, []);
  const doWhenFree = useCallback((work: () => void) => {
    if (isHeld.current) kept.current = work;
    else work();
  }, []);
  const forget = useCallback(() => {
    kept.current = null;
  }, []);
  return { hold, doWhenFree, forget };
}

/**
 * The cases of an address, in parts that are fetched as they come into view, and kept current: when the app changes, what is
 * in view is fetched again. `parameters` are those of the list without the place it begins at.
 */
export function useCaseList(appSlug: string, parameters: string, initial: CaseList, size: number): LiveCaseList {
  const [pages, setPages] = useState<Pages>({ parameters, list: initial, items: new Map(itemsOf(initial)) });
  const [problem, setProblem] = useState<RequestProblem | null>(null);
  const view = useRef({ from: 0, to: 0 });
  /** Whose list is shown: another one's is not held. */
  const shown = useRef(parameters);
  const questions = useQuestions();
  const { hold, doWhenFree, forget } = useHold();

  const load = useCallback(
    (from: number, { fresh, onShown }: { fresh: boolean; onShown?: () => void }) => {
      const address = addressOf('GET /apps/{app}/cases', { app: appSlug }, `${parameters === '' ? '?' : `${parameters}&`}from=${from}`);
      if (!fresh && questions.isWaiting(address)) return;
      questions.ask(address, {
        onAnswer: (list) => {
          const show = () => {
            setPages((before) => withPart(before, parameters, list, { fresh }));
            onShown?.();
          };
          setProblem(null);
          if (fresh && shown.current === parameters) doWhenFree(show);
          else show();
          shown.current = parameters;
        },
        onProblem: setProblem,
      });
    },
    [appSlug, doWhenFree, parameters, questions],
  );

  const refresh = useCallback(() => {
    const { from, to } = view.current;
    const [first, last] = [pageOf(from, size), pageOf(to, size)];
    load(first, { fresh: true, onShown: () => last !== first && load(last, { fresh: false }) });
  }, [load, size]);

  const isFirst = useRef(true);
  useEffect(() => {
    if (isFirst.current) isFirst.current = false;
    else {
      view.current = { from: 0, to: 0 };
      questions.leaveAll();
      forget();
      load(0, { fresh: true });
    }
  }, [forget, load, questions]);
  useChanges(appSlug, refresh);

  const need = useCallback(
    (from: number, to: number) => {
      view.current = { from, to };
      for (let page = pageOf(from, size); page <= to && page < pages.list.total; page += size)
        if (!pages.items.has(page)) load(page, { fresh: false });
    },
    [load, pages, size],
  );
  return { list: pages.list, at: (place) => pages.items.get(place), need, hold, problem };
}
