import { useEffect, useState } from 'react';
import type { Address, RequestProblem } from './api';
import { useQuestions } from './use-questions';

export interface Answered<Answer> {
  /** Null until it has come. */
  readonly answer: Answer | null;
  readonly problem: RequestProblem | null;
  /** The answer is to another question than the one asked now. */
  readonly stale: boolean;
  /** The question that the answer is to. */
  readonly answeredPath: string | null;
}

/** The server may be starting again; what is shown stays meanwhile. */
const tryAgainMs = 5_000;

/**
 * What is asked at an address, a moment after it was asked, so that whoever moves on quickly asks nothing. The answer before
 * stays until the next one is there. `turn` asks again when it differs; null for no question.
 */
export function useAnswer<Answer>(
  path: Address<Answer> | null,
  { waitMs = 0, turn = 0 }: { waitMs?: number; turn?: number } = {},
): Answered<Answer> {
  const [known, setKnown] = useState<{ path: string; answer: Answer } | null>(null);
  const [problem, setProblem] = useState<RequestProblem | null>(null);
  const questions = useQuestions();
  useEffect(() => questions.leaveAllBut(path), [questions, path]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a turn asks the same again
  useEffect(() => {
    if (path === null) return;
    let isLeft = false;
    let timer: ReturnType<typeof setTimeout>;
    const ask = () =>
      questions.ask(path, {
        onAnswer: (answer) => {
          setKnown({ path, answer });
          setProblem(null);
        },
        onProblem: (problem) => {
          setProblem(problem);
          if (problem.mayPass && !isLeft) timer = setTimeout(ask, tryAgainMs);
        },
      });
    timer = setTimeout(ask, waitMs);
    return () => {
      isLeft = true;
      clearTimeout(timer);
    };
  }, [path, waitMs, turn, questions]);
  return { answer: known?.answer ?? null, problem, stale: known?.path !== path, answeredPath: known?.path ?? null };
}
