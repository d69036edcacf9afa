import type { Answer } from '@rough-ember/core/ask/answer';
import { answerText } from '@rough-ember/core/ask/answer-text';
import { parseQuestion } from '@rough-ember/core/ask/question';
import { printable } from '@rough-ember/core/report/printable';
import { ask, reach, type ServerOptions } from './ask-server.ts';
import { UsageProblem } from './command-problem.ts';

interface AskOptions extends ServerOptions {
  readonly last?: string;
  readonly version?: string;
  readonly kind?: string;
  readonly builds?: string;
  readonly filter?: string;
  readonly exact?: boolean;
  readonly json?: boolean;
}

const scopeParameters = ['last', 'version', 'kind', 'builds', 'filter'] as const;

/** `ember ask`: a question about a scope, answered as lines of text. */
export async function askQuestion(text: string, options: AskOptions): Promise<void> {
  const { app, token } = reach(options, 'read');
  const question = parseQuestion(text);
  if (!question.ok) throw new UsageProblem(question.problem.message);
  const parameters = new URLSearchParams(scopeParameters.flatMap((name) => (options[name] === undefined ? [] : [[name, options[name]]])));
  parameters.set('question', text);
  if (options.exact) parameters.set('exact', '1');
  const answer = await ask<Answer>(`${app}/ask?${parameters}`, token);
  console.log(options.json ? JSON.stringify(answer, null, 2) : answerText(answer, question.value).split('\n').map(printable).join('\n'));
}
