import { useCallback, useEffect, useRef, useState } from 'react';
import type { Address, RequestProblem } from './api';
import { useChanges } from './use-changes';
import { useQuestions } from './use-questions';

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
 * again whenever the app changes. An answer to a question that is asked no more is dropped.
 */
export function useLive<Data>(appSlug: string, path: Address<Data> | null, initial: Data): Live<Data> {
  const [state, setState] = useState({ data: initial, path });
  const [problem, setProblem] = useState<RequestProblem | null>(null);
  const questions = useQuestions();

  const refresh = useCallback(() => {
    questions.leaveAllBut(path);
    if (path === null) return;
    questions.ask(path, {
      onAnswer: (data) => {
        setState({ data, path });
        setProblem(null);
      },
      onProblem: setProblem,
    });
  }, [path, questions]);

  const isFirst = useRef(true);
  useEffect(() => {
    if (isFirst.current) isFirst.current = false;
    else refresh();
  }, [refresh]);
  useChanges(appSlug, refresh);

  return { data: state.data, problem, stale: state.path !== path, refresh };
}
