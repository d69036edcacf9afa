import { useCallback, useEffect, useRef, useState } from 'react';
import { type Address, problemOf, type RequestProblem, read } from './api';
import { useChanges } from './use-changes';

export interface Live<Data> {
  readonly data: Data;
  readonly problem: RequestProblem | null;
  /** The data shown is of another address than the one asked for. */
  readonly stale: boolean;
  /** Asks again now. */
  refresh(): void;
}

/**
 * Data of an address, kept current: it starts with what the page brought along, follows the address, and is fetched
 * again whenever the app changes. An answer that was overtaken by a newer question is dropped.
 */
export function useLive<Data>(appSlug: string, path: Address<Data> | null, initial: Data): Live<Data> {
  const [state, setState] = useState({ data: initial, path });
  const [problem, setProblem] = useState<RequestProblem | null>(null);
  const pending = useRef<AbortController | null>(null);

  const refresh = useCallback(async () => {
    pending.current?.abort();
    if (path === null) return;
    const controller = new AbortController();
    pending.current = controller;
    try {
      const data = await read(path, controller.signal);
      setState({ data, path });
      setProblem(null);
    } catch (error) {
      if (controller.signal.aborted) return;
      setProblem(problemOf(error, 'Load the page again.'));
    }
  }, [path]);

  const isFirst = useRef(true);
  useEffect(() => {
    if (isFirst.current) isFirst.current = false;
    else void refresh();
  }, [refresh]);
  useEffect(() => () => pending.current?.abort(), []);
  useChanges(appSlug, () => void refresh());

  return { data: state.data, problem, stale: state.path !== path, refresh: () => void refresh() };
}
