import type { AnswerOf, OperationKey, Sent } from '@rough-ember/server/api/registry';
import type { PathOf } from '@rough-ember/server/operation/operation';
import { useEffect, useState } from 'react';
import { problemOf, type RequestProblem, request } from '../client/api';

const restMs = 250;

/**
 * The answer to a question that changes while somebody types: asked once they rest, the answer before it stays until then. It is
 * asked again when what it is about has changed, which `about` tells.
 */
export function useAsked<K extends Extract<OperationKey, `POST /apps/{app}/${string}`>>(
  key: K,
  app: string,
  body: Sent<K>['body'],
  about = '',
): { answer: AnswerOf<K> | null; problem: RequestProblem | null } {
  const [answer, setAnswer] = useState<AnswerOf<K> | null>(null);
  const [problem, setProblem] = useState<RequestProblem | null>(null);
  const asked = JSON.stringify(body);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what the question is about is no part of it
  useEffect(() => {
    const controller = new AbortController();
    const timer = setTimeout(async () => {
      try {
        const told = await request(key, { app } as PathOf<K>, { body: JSON.parse(asked), signal: controller.signal });
        if (controller.signal.aborted) return;
        setAnswer(told);
        setProblem(null);
      } catch (error) {
        if (controller.signal.aborted) return;
        setProblem(problemOf(error));
      }
    }, restMs);
    return () => {
      clearTimeout(timer);
      controller.abort();
    };
  }, [key, app, asked, about]);
  return { answer, problem };
}
