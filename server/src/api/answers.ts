import type { RawAnswers } from '../http/raw-route.ts';
import type { AnswerOf, OperationKey } from './registry.ts';

/** What each operation answers; `scripts/describe-answers.ts` makes `answers.json` of it. */
export type Answers = {
  [K in OperationKey | keyof RawAnswers]: K extends OperationKey ? AnswerOf<K> : K extends keyof RawAnswers ? RawAnswers[K] : never;
};
