import type { Account } from '@rough-ember/store/accounts';
import { type App, listApps } from '@rough-ember/store/apps';
import type { Database } from '@rough-ember/store/database';
import { z } from 'zod';
import { ApiError } from '../errors.ts';

/** Which apps somebody sees. */
export type Reach = Pick<Account, 'role' | 'appIds'>;

/** Apps by their short names, as a person is limited to them. */
export const appsSchema = z
  .array(z.string().max(100))
  .max(500)
  .nullable()
  .describe('Short names of the apps that the person sees; null for all, those that are made later too. Owners see all.');

/** Whether somebody sees an app. Owners see all of them, since they run the server. */
export const reaches = ({ role, appIds }: Reach, appId: number): boolean => role === 'owner' || appIds === null || appIds.includes(appId);

/** The apps that somebody sees. */
export async function listAppsInReach(database: Database, reach: Reach): Promise<App[]> {
  return (await listApps(database)).filter(({ id }) => reaches(reach, id));
}

/** The rows of apps by their short names; null stands for all. What is not among those that may be named does not exist. */
export function idsOfApps(slugs: readonly string[] | null, apps: readonly App[]): number[] | null {
  if (slugs === null) return null;
  return slugs.map((slug) => {
    const app = apps.find((one) => one.slug === slug);
    if (!app) throw new ApiError('bad-request', `apps: there is no app "${slug}".`);
    return app.id;
  });
}

/** The short names of apps by their rows; null stands for all. */
export const slugsOfApps = (ids: readonly number[] | null, apps: readonly App[]): string[] | null =>
  ids === null ? null : apps.filter(({ id }) => ids.includes(id)).map(({ slug }) => slug);

/** What everybody who sees an app may know of it. */
export const appView = ({ slug, name, prefix }: App): Pick<App, 'slug' | 'name' | 'prefix'> => ({ slug, name, prefix });
