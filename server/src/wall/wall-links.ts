import { listApps } from '@rough-ember/store/apps';
import type { Database } from '@rough-ember/store/database';
import { createWallLink, listWallLinks, revokeWallLink, useWallLink, type WallLink } from '@rough-ember/store/wall-links';
import { z } from 'zod';
import { hashSecret, makeSecret } from '../accounts/secrets.ts';
import { ApiError } from '../errors.ts';

export const wallLinkSchema = z.object({
  name: z.string().trim().min(1, { error: 'give it a name, such as where the screen hangs' }).max(100),
  apps: z
    .array(z.string().max(100))
    .max(50)
    .nullable()
    .default(null)
    .describe('The apps that take turns, by their short names; null for all, those that are made later too.'),
});

/** A link as whoever may revoke it sees it; the secret in it was shown once. */
export interface WallLinkView {
  readonly id: number;
  readonly name: string;
  readonly apps: readonly string[] | null;
  readonly madeBy: string;
  readonly createdAt: string;
  readonly lastUsedAt: string | null;
}

export async function loadWallLinks(database: Database): Promise<WallLinkView[]> {
  const [links, apps] = await Promise.all([listWallLinks(database), listApps(database)]);
  const slugOf = new Map(apps.map((one) => [one.id, one.slug]));
  return links.map(({ appIds, createdAt, lastUsedAt, ...link }) => ({
    ...link,
    apps: appIds === null ? null : appIds.flatMap((id) => slugOf.get(id) ?? []),
    createdAt: createdAt.toISOString(),
    lastUsedAt: lastUsedAt?.toISOString() ?? null,
  }));
}

/** Makes a link and gives its address, which is not kept. */
export async function makeWallLink(
  database: Database,
  { name, apps: slugs, madeBy, publicUrl }: z.infer<typeof wallLinkSchema> & { madeBy: string; publicUrl: string },
): Promise<string> {
  const apps = await listApps(database);
  const appIds =
    slugs?.map((slug) => {
      const app = apps.find((one) => one.slug === slug);
      if (!app) throw new ApiError('bad-request', `apps: there is no app "${slug}".`);
      return app.id;
    }) ?? null;
  if (appIds?.length === 0) throw new ApiError('bad-request', 'apps: name one at least, or leave it out for all.');
  const secret = makeSecret('wall', 24);
  await createWallLink(database, { name, appIds, madeBy, secretHash: hashSecret(secret) });
  return `${publicUrl}/wall/${secret}`;
}

export async function endWallLink(database: Database, id: number): Promise<void> {
  if (!(await revokeWallLink(database, id))) throw new ApiError('not-found', 'There is no such link, or it was revoked before.');
}

/** The link that a secret stands for; whoever has none learns nothing. */
export async function requireWallLink(database: Database, secret: string, now: Date): Promise<WallLink> {
  const link = secret.length > 200 ? null : await useWallLink(database, hashSecret(secret), now);
  if (!link) throw new ApiError('not-found', 'This link was revoked, or there never was one.');
  return link;
}
