import { useState } from 'react';
import { problemOf, type RequestProblem } from './api';

/** Does something that the server may refuse; says whether it went well. */
export type Attempt = (work: () => Promise<unknown>) => Promise<boolean>;

/** An attempt, and why the last one failed; null before the first, and after one that went well. */
export function useAttempt(): { readonly problem: RequestProblem | null; readonly attempt: Attempt } {
  const [problem, setProblem] = useState<RequestProblem | null>(null);
  const attempt: Attempt = async (work) => {
    try {
      await work();
      setProblem(null);
      return true;
    } catch (error) {
      setProblem(problemOf(error));
      return false;
    }
  };
  return { problem, attempt };
}
