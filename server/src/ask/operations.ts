import { longestQuestion, parseQuestion } from '@rough-ember/core/ask/question';
import { z } from 'zod';
import { operation } from '../operation/operation.ts';
import { scoped } from '../operation/scope-parameters.ts';
import { stabilityParametersSchema } from '../stability/crash-free.ts';
import { answerQuestion } from './answer-question.ts';

const questionSchema = z
  .string()
  .max(longestQuestion)
  .describe(
    'What to count, by what, over which steps of time: `affected people by carrier, version per week`. Its words stand in docs/ask.md.',
  )
  .transform((text, context) => {
    const question = parseQuestion(text);
    if (question.ok) return question.value;
    context.addIssue({ code: 'custom', message: question.problem.message });
    return z.NEVER;
  });

/** Questions of one's own. */
export const askOperations = [
  operation('GET /apps/{app}/ask', {
    does: 'Answers a question about a scope: how many of something, or a rate or statistic, by up to three fields and over time.',
    right: 'read',
    parameters: scoped({ question: questionSchema, exact: stabilityParametersSchema.shape.exact }),
    run: ({ services, app, parameters, now }) => answerQuestion(services, { app, ...parameters, now }),
  }),
] as const;
