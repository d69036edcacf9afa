import type { Account } from '@rough-ember/store/accounts';
import type { App } from '@rough-ember/store/apps';
import type { Database } from '@rough-ember/store/database';
import { createWallLink, listWallLinks, revokeWallLink, useWallLink, type WallLink } from '@rough-ember/store/wall-links';
import { z } from 'zod';
import { idsOfApps, listAppsInReach, type Reach, slugsOfApps } from '../accounts/reach.ts';
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

/** The links to apps that somebody sees; a link that shows another app as well is not theirs to know. */
export async function loadWallLinks(database: Database, reach: Reach): Promise<WallLinkView[]> {
  const [links, apps] = await Promise.all([listWallLinks(database), listAppsInReach(database, reach)]);
  return links.filter(inReach(apps, reach)).map(({ appIds, createdAt, lastUsedAt, ...link }) => ({
    ...link,
    apps: slugsOfApps(appIds, apps),
    createdAt: createdAt.toISOString(),
    lastUsedAt: lastUsedAt?.toISOString() ?? null,
  }));
}

const isLimited = ({ role, appIds }: Reach): boolean => role !== 'owner' && appIds !== null;

const inReach =
  (apps: readonly App[], reach: Reach) =>
  ({ appIds }: WallLink): boolean =>
    !isLimited(reach) || appIds?.every((id) => apps.some((app) => app.id === id)) === true;

/** Makes a link and gives its address, which is not kept. */
export async function makeWallLink(
  database: Database,
  { name, apps: slugs, maker, publicUrl }: z.infer<typeof wallLinkSchema> & { maker: Account; publicUrl: string },
): Promise<string> {
  const apps = await listAppsInReach(database, maker);
  // All that somebody sees is, for whoever is limited, a list.
  const appIds = slugs === null && isLimited(maker) ? apps.map(({ id }) => id) : idsOfApps(slugs, apps);
  if (appIds?.length === 0) throw new ApiError('bad-request', 'apps: name one at least, or leave it out for all.');
  const secret = makeSecret('wall', 24);
  await createWallLink(database, { name, appIds, madeBy: maker.email, secretHash: hashSecret(secret) });
  return `${publicUrl}/wall/${secret}`;
}

export async function endWallLink(database: Database, id: number, reach: Reach): Promise<void> {
  const isTheirs = (await loadWallLinks(database, reach)).some((link) => link.id === id);
  if (!isTheirs || !(await revokeWallLink(database, id)))
    throw new ApiError('not-found', 'There is no such link, or it was revoked before.');
}

/** The link that a secret stands for; whoever has none learns nothing. */
export async function requireWallLink(database: Database, secret: string, now: Date): Promise<WallLink> {
  const link = secret.length > 200 ? null : await useWallLink(database, hashSecret(secret), now);
  if (!link) throw new ApiError('not-found', 'This link was revoked, or there never was one.');
  return link;
}
