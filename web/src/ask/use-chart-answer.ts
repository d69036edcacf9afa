import type { Answer } from '@rough-ember/core/ask/answer';
import { useEffect, useState } from 'react';
import type { Address, RequestProblem } from '../client/api';
import { useQuestions } from '../client/use-questions';

/** The answer at an address, asked for anew every so often; what came last stays until then. */
export function useChartAnswer(
  path: Address<Answer>,
  everyMs: number,
): { readonly answer: Answer | null; readonly problem: RequestProblem | null } {
  const [answer, setAnswer] = useState<Answer | null>(null);
  const [problem, setProblem] = useState<RequestProblem | null>(null);
  const questions = useQuestions();
  useEffect(() => {
    const onAnswer = (next: Answer) => {
      setAnswer(next);
      setProblem(null);
    };
    const look = () => questions.ask(path, { onAnswer, onProblem: setProblem });
    questions.leaveAllBut(path);
    look();
    const timer = setInterval(look, everyMs);
    return () => clearInterval(timer);
  }, [questions, path, everyMs]);
  return { answer, problem };
}
