import type { CaseItem, CaseList } from '@rough-ember/server/desk/case-list';
import { useCallback, useEffect, useRef, useState } from 'react';
import { addressOf, problemOf, type RequestProblem, read } from '../client/api';
import { useChanges } from '../client/use-changes';

/** A list of which only the parts that were looked at are there. */
export interface LiveCaseList {
  readonly list: CaseList;
  /** The case at a place of the list; undefined when it has not come yet. */
  at(place: number): CaseItem | undefined;
  /** Asks for the parts that hold these places, where they are not there yet. */
  need(from: number, to: number): void;
  readonly problem: RequestProblem | null;
}

interface Pages {
  readonly parameters: string;
  readonly list: CaseList;
  readonly items: ReadonlyMap<number, CaseItem>;
}

const pageOf = (place: number, size: number): number => Math.floor(place / size) * size;

const itemsOf = (list: CaseList): [number, CaseItem][] => list.cases.map((item, at) => [list.from + at, item]);

/** What is being asked, by its address; given up when the list goes. */
function useAsked() {
  const asked = useRef(new Map<string, AbortController>());
  useEffect(() => {
    const all = asked.current;
    return () => {
      for (const controller of all.values()) controller.abort();
    };
  }, []);
  return asked;
}

/**
 * The cases of an address, in parts that are fetched as they come into view, and kept current: when the app changes, what is
 * in view is fetched again. `parameters` are those of the list without the place it begins at.
 */
export function useCaseList(appSlug: string, parameters: string, initial: CaseList, size: number): LiveCaseList {
  const [pages, setPages] = useState<Pages>({ parameters, list: initial, items: new Map(itemsOf(initial)) });
  const [problem, setProblem] = useState<RequestProblem | null>(null);
  const view = useRef({ from: 0, to: 0 });
  const asked = useAsked();

  const load = useCallback(
    async (from: number, { fresh }: { fresh: boolean }) => {
      const address = addressOf('GET /apps/{app}/cases', { app: appSlug }, `${parameters === '' ? '?' : `${parameters}&`}from=${from}`);
      if (asked.current.has(address) && !fresh) return;
      asked.current.get(address)?.abort();
      const controller = new AbortController();
      asked.current.set(address, controller);
      try {
        const list = await read(address, controller.signal);
        setPages((before) => {
          // A list that has changed keeps no part of before: places may have moved.
          const keeps = before.parameters === parameters && before.list.total === list.total && !fresh;
          return { parameters, list, items: new Map([...(keeps ? before.items : []), ...itemsOf(list)]) };
        });
        setProblem(null);
      } catch (error) {
        if (!controller.signal.aborted) setProblem(problemOf(error, 'Load the page again.'));
      } finally {
        if (asked.current.get(address) === controller) asked.current.delete(address);
      }
    },
    [appSlug, asked, parameters],
  );

  const refresh = useCallback(() => {
    const { from, to } = view.current;
    void load(pageOf(from, size), { fresh: true }).then(() => {
      if (pageOf(to, size) !== pageOf(from, size)) void load(pageOf(to, size), { fresh: false });
    });
  }, [load, size]);

  const isFirst = useRef(true);
  useEffect(() => {
    if (isFirst.current) isFirst.current = false;
    else {
      view.current = { from: 0, to: 0 };
      void load(0, { fresh: true });
    }
  }, [load]);
  useChanges(appSlug, refresh);

  const need = useCallback(
    (from: number, to: number) => {
      view.current = { from, to };
      for (let page = pageOf(from, size); page <= to && page < pages.list.total; page += size)
        if (!pages.items.has(page)) void load(page, { fresh: false });
    },
    [load, pages, size],
  );
  return { list: pages.list, at: (place) => pages.items.get(place), need, problem };
}
