import { defaultQuestion, parseQuestion, printQuestion, type Question } from '@rough-ember/core/ask/question';
import { parseScope, printScope, type Scope } from '@rough-ember/core/scope/scope';
import { search } from '../desk/desk-address';

/** What the address of Ask holds. */
export interface AskView {
  readonly scope: Scope;
  readonly question: Question;
  /** Whether everybody is counted, however long it takes. */
  readonly exact: boolean;
}

/** Reads the view from an address; null when the scope or the question in it cannot be read. */
export function readAskView(parameters: URLSearchParams): AskView | null {
  const scope = parseScope(parameters);
  const text = parameters.get('question');
  const question = text === null ? { ok: true as const, value: defaultQuestion } : parseQuestion(text);
  return scope.ok && question.ok ? { scope: scope.value, question: question.value, exact: parameters.get('exact') === '1' } : null;
}

/** The parameters of the API for a view. */
export const askParameters = (view: AskView): string => writeAskView(view).slice(1);

export const writeAskView = ({ scope, question, exact }: AskView): string =>
  search(scope, { question: printQuestion(question), exact: exact ? '1' : null });

/** Where a question is asked, of a scope. */
export const askAddress = (here: string, question: string, scope: Scope): string =>
  `${here}/ask?${[printScope(scope), `question=${encodeURIComponent(question)}`].filter(Boolean).join('&')}`;
