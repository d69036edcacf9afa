import type { FieldValues } from '@rough-ember/core/report-index/field-values';
import type { FieldName } from '@rough-ember/core/scope/filter/filter';
import { printScope, type Scope } from '@rough-ember/core/scope/scope';
import type { FieldOverview } from '@rough-ember/server/desk/fields';
import { useAnswer } from '../client/use-answer';

/** Everything the app's reports can be filtered by. */
export const useFields = (api: string): FieldOverview | null => useAnswer<FieldOverview>(`${api}/fields`).answer;

/** The values really seen in a field, with counts; null for no question, and until they have come. */
export function useValues(
  api: string,
  scope: Scope,
  question: { readonly field: FieldName; readonly key: string; readonly part: string } | null,
): FieldValues | null {
  const path = question && `${api}/values?${[printScope(scope), new URLSearchParams(question).toString()].filter(Boolean).join('&')}`;
  const { answer, stale } = useAnswer<FieldValues>(path, { waitMs: 120 });
  return stale ? null : answer;
}
