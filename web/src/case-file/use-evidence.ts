import { useThrottledCallback } from '@mantine/hooks';
import { printScope } from '@rough-ember/core/scope/scope';
import type { AnswerOf } from '@rough-ember/server/api/registry';
import type { PathOf } from '@rough-ember/server/operation/operation';
import { useState } from 'react';
import { addressOf } from '../client/api';
import { type Answered, useAnswer } from '../client/use-answer';
import { useChanges } from '../client/use-changes';
import { useScope } from '../scope/scope-context';

/** Whoever steps through cases asks nothing of those that are passed. */
const restMs = 200;

/** While reports pour in, a case's evidence hardly differs from one moment to the next, and costs a look at all of them. */
const pauseMs = 3_000;

/** A part of a case's evidence in the scope of the screen, kept current. */
export function useEvidence<Part extends 'who' | 'when' | 'steps' | 'similar' | 'changes' | 'tickets' | 'follow'>(
  appSlug: string,
  ref: string,
  part: Part,
  more: Readonly<Record<string, string>> = {},
): Answered<AnswerOf<`GET /apps/{app}/cases/{ref}/${Part}`>> {
  const holder = useScope();
  const [turn, setTurn] = useState(0);
  const askAgain = useThrottledCallback(() => setTurn((before) => before + 1), pauseMs);
  useChanges(appSlug, askAgain);
  const parameters = [holder ? printScope(holder.scope) : '', new URLSearchParams(more).toString()].filter(Boolean).join('&');
  const address = addressOf(
    `GET /apps/{app}/cases/{ref}/${part}`,
    { app: appSlug, ref } as PathOf<`GET /apps/{app}/cases/{ref}/${Part}`>,
    parameters,
  );
  const answered = useAnswer(address, { waitMs: restMs, turn });
  // What another case told would be taken for this one's.
  const isOfThisCase = answered.answeredPath?.split('?', 1)[0] === address.split('?', 1)[0];
  return isOfThisCase ? answered : { ...answered, answer: null };
}
