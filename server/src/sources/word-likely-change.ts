import { wordChange } from '@rough-ember/core/changes/word-change';
import type { App } from '@rough-ember/store/apps';
import type { DeskServices, Services } from '../services.ts';
import { loadLikelyChanges } from './likely-changes.ts';

/** The likeliest change of a case in a line: what it was, by whom, and why it is likely; null where none is known. */
export async function wordLikelyChange(
  services: DeskServices & Pick<Services, 'settings'>,
  app: App,
  caseId: number,
): Promise<string | null> {
  const change = (await loadLikelyChanges(services, app, caseId)).found?.changes[0];
  return change ? wordChange(change) : null;
}
