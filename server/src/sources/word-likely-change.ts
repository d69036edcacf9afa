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
  return change ? `${change.subject} (${change.hash.slice(0, 9)} by ${change.authorName}), ${change.reason}` : null;
}
