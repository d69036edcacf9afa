import type { FieldName } from '@rough-ember/core/fields/fields';
import type { FieldValues } from '@rough-ember/core/report-index/field-values';
import { printScope, type Scope } from '@rough-ember/core/scope/scope';
import type { FieldOverview } from '@rough-ember/server/desk/fields';
import { addressOf } from '../client/api';
import { useAnswer } from '../client/use-answer';

/** Everything the app's reports can be filtered by. */
export const useFields = (appSlug: string): FieldOverview | null => useAnswer(addressOf('GET /apps/{app}/fields', { app: appSlug })).answer;

/** The values really seen in a field, with counts; null for no question, and until they have come. */
export function useValues(
  appSlug: string,
  scope: Scope,
  question: { readonly field: FieldName; readonly key: string; readonly part: string } | null,
): FieldValues | null {
  const parameters = question && [printScope(scope), new URLSearchParams(question).toString()].filter(Boolean).join('&');
  const address = parameters === null ? null : addressOf('GET /apps/{app}/values', { app: appSlug }, parameters);
  const { answer, stale } = useAnswer(address, { waitMs: 120 });
  return stale ? null : answer;
}
