import type { Database } from './database.ts';

/** A link that shows the figures of apps on a big screen to whoever has it, and nothing else. Only its hash is kept. */
export interface WallLink {
  readonly id: number;
  readonly name: string;
  /** The apps that take turns; null for all there are. */
  readonly appIds: readonly number[] | null;
  readonly madeBy: string;
  readonly createdAt: Date;
  readonly lastUsedAt: Date | null;
}

const columns = {
  id: 'id',
  name: 'name',
  appIds: 'app_ids',
  madeBy: 'made_by',
  createdAt: 'created_at',
  lastUsedAt: 'last_used_at',
} as const;

export async function createWallLink(
  database: Database,
  { name, secretHash, appIds, madeBy }: Pick<WallLink, 'name' | 'appIds' | 'madeBy'> & { secretHash: Buffer },
): Promise<void> {
  await database('wall_links').insert({
    name,
    secret_hash: secretHash,
    app_ids: appIds === null ? null : JSON.stringify(appIds),
    made_by: madeBy,
  });
}

/** Links in use, the oldest first. */
export async function listWallLinks(database: Database): Promise<WallLink[]> {
  return database('wall_links').whereNull('revoked_at').orderBy('id').select(columns);
}

const useNotedEveryMs = 60_000;

/** Finds a link in use by its hash, and notes about once a minute that it is. */
export async function useWallLink(database: Database, secretHash: Buffer, now: Date): Promise<WallLink | null> {
  const link: WallLink | undefined = await database('wall_links').where({ secret_hash: secretHash }).whereNull('revoked_at').first(columns);
  if (!link) return null;
  if (link.lastUsedAt === null || now.getTime() - link.lastUsedAt.getTime() > useNotedEveryMs)
    await database('wall_links').where({ id: link.id }).update({ last_used_at: now });
  return link;
}

/** False when there is no such link in use. */
export async function revokeWallLink(database: Database, id: number): Promise<boolean> {
  return (await database('wall_links').where({ id }).whereNull('revoked_at').update({ revoked_at: new Date() })) > 0;
}
