import { appPlatforms } from '@rough-ember/core/report/app-platforms';
import { addFirstRules } from '@rough-ember/store/alert-rules';
import { type App, createApp } from '@rough-ember/store/apps';
import type { Database } from '@rough-ember/store/database';
import { z } from 'zod';
import { ApiError } from '../errors.ts';
import { issueIntakeKey } from './issue-credentials.ts';

/** What a person says of a new app. */
export const newAppSchema = z.object({
  name: z.string().trim().min(1, { error: 'give it a name' }).max(100),
  prefix: z
    .string()
    .trim()
    .toUpperCase()
    .regex(/^[A-Z][A-Z0-9]{0,9}$/, { error: 'takes one to ten letters or digits, a letter first' }),
  platforms: z.array(z.enum(appPlatforms)).min(1, { error: 'choose at least one' }),
  ourPackages: z
    .array(
      z
        .string()
        .trim()
        .min(1)
        .max(200)
        .regex(/^[\w$.]+$/, { error: 'is a package such as com.example' }),
    )
    .max(50),
});
export type NewApp = z.infer<typeof newAppSchema>;

/** Makes an app, its first intake key, and the alert rules that every app begins with. */
export async function makeApp(database: Database, wanted: NewApp): Promise<App> {
  const slug =
    wanted.name
      .normalize('NFKD')
      .replace(/\p{M}/gu, '')
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-+|-+$/g, '')
      .slice(0, 60) || wanted.prefix.toLowerCase();
  const app = await createApp(database, { ...wanted, slug });
  if (!app) throw new ApiError('taken', `There is an app of this name or with the prefix ${wanted.prefix} already.`);
  await issueIntakeKey(database, { appId: app.id, name: 'phones' });
  await addFirstRules(database, app.id);
  return app;
}
