import type { Account } from '@rough-ember/store/accounts';
import type { App } from '@rough-ember/store/apps';
import { followCase, listFollowers, unfollowCase } from '@rough-ember/store/case-followers';
import { requireCase } from '../desk/case-actions.ts';
import type { Services } from '../services.ts';

/** Whether somebody follows a case, and how many do. */
export interface Following {
  readonly follows: boolean;
  readonly followers: number;
}

type FollowServices = Pick<Services, 'database' | 'changes'>;

export async function loadFollowing({ database }: FollowServices, app: App, ref: string, account: Account | null): Promise<Following> {
  const followers = await listFollowers(database, await requireCase({ database }, app, ref));
  return { follows: account !== null && followers.includes(account.id), followers: followers.length };
}

/** Has somebody follow a case, or no more. */
export async function changeFollowing(
  services: FollowServices,
  app: App,
  { ref, account, follows }: { readonly ref: string; readonly account: Account; readonly follows: boolean },
): Promise<Following> {
  const caseId = await requireCase(services, app, ref);
  await (follows ? followCase : unfollowCase)(services.database, caseId, account.id);
  services.changes.note(app.id);
  return loadFollowing(services, app, ref, account);
}
