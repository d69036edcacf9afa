import { useThrottledCallback } from '@mantine/hooks';
import { printScope } from '@rough-ember/core/scope/scope';
import { useState } from 'react';
import { type Answered, useAnswer } from '../client/use-answer';
import { useChanges } from '../client/use-changes';
import { useScope } from '../scope/scope-context';

/** Whoever steps through cases asks nothing of those that are passed. */
const restMs = 200;

/** While reports pour in, a case's evidence hardly differs from one moment to the next, and costs a look at all of them. */
const pauseMs = 3_000;

/** A part of a case's evidence in the scope of the screen, kept current. */
export function useEvidence<Answer>(
  appSlug: string,
  ref: string,
  part: string,
  more: Readonly<Record<string, string>> = {},
): Answered<Answer> {
  const holder = useScope();
  const [turn, setTurn] = useState(0);
  const askAgain = useThrottledCallback(() => setTurn((before) => before + 1), pauseMs);
  useChanges(appSlug, askAgain);
  const parameters = [holder ? printScope(holder.scope) : '', new URLSearchParams(more).toString()].filter(Boolean).join('&');
  const path = `/api/v1/apps/${appSlug}/cases/${ref}/${part}`;
  const answered = useAnswer<Answer>(`${path}${parameters && `?${parameters}`}`, { waitMs: restMs, turn });
  // What another case told would be taken for this one's.
  const isOfThisCase = answered.answeredPath?.split('?', 1)[0] === path;
  return isOfThisCase ? answered : { ...answered, answer: null };
}
