import { useEffect, useState } from 'react';
import { RequestProblem, request } from '../client/api';

const restMs = 250;

/**
 * The answer to a question that changes while somebody types: asked once they rest, the answer before it stays until then. It is
 * asked again when what it is about has changed, which `about` tells.
 */
export function useAsked<Answer>(path: string, body: unknown, about = ''): { answer: Answer | null; problem: RequestProblem | null } {
  const [answer, setAnswer] = useState<Answer | null>(null);
  const [problem, setProblem] = useState<RequestProblem | null>(null);
  const asked = JSON.stringify(body);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what the question is about is no part of it
  useEffect(() => {
    const controller = new AbortController();
    const timer = setTimeout(async () => {
      try {
        setAnswer(await request<Answer>('POST', path, JSON.parse(asked), controller.signal));
        setProblem(null);
      } catch (error) {
        if (controller.signal.aborted) return;
        setProblem(error instanceof RequestProblem ? error : new RequestProblem(String(error), 'Try again.'));
      }
    }, restMs);
    return () => {
      clearTimeout(timer);
      controller.abort();
    };
  }, [path, asked, about]);
  return { answer, problem };
}
