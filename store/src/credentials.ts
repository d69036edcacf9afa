import type { Database } from './database.ts';

/** Write-only and shipped inside apps. */
export interface IntakeKey {
  readonly id: number;
  readonly appId: number;
  readonly name: string;
  readonly keyText: string;
  readonly createdAt: Date;
  readonly revokedAt: Date | null;
}

const keyColumns = {
  id: 'id',
  appId: 'app_id',
  name: 'name',
  keyText: 'key_text',
  createdAt: 'created_at',
  revokedAt: 'revoked_at',
} as const;

export async function createIntakeKey(database: Database, key: { appId: number; name: string; keyText: string }): Promise<void> {
  await database('intake_keys').insert({ app_id: key.appId, name: key.name, key_text: key.keyText });
}

export async function findIntakeKey(database: Database, keyText: string): Promise<IntakeKey | null> {
  return (await database('intake_keys').where({ key_text: keyText }).first(keyColumns)) ?? null;
}

export async function listIntakeKeys(database: Database, appId: number): Promise<IntakeKey[]> {
  return database('intake_keys').where({ app_id: appId }).orderBy('id').select(keyColumns);
}

/** Revokes a key of the app; false when there is no such key, or it was revoked before. */
export async function revokeIntakeKey(database: Database, appId: number, id: number): Promise<boolean> {
  const changed = await database('intake_keys').where({ app_id: appId, id, revoked_at: null }).update({ revoked_at: new Date() });
  return changed > 0;
}

/** Secret; only its hash is kept. */
export interface Token {
  readonly id: number;
  readonly appId: number;
  readonly name: string;
  readonly scope: 'upload';
  readonly shownPrefix: string;
  readonly createdAt: Date;
  readonly revokedAt: Date | null;
  readonly lastUsedAt: Date | null;
}

const tokenColumns = {
  id: 'id',
  appId: 'app_id',
  name: 'name',
  scope: 'scope',
  shownPrefix: 'shown_prefix',
  createdAt: 'created_at',
  revokedAt: 'revoked_at',
  lastUsedAt: 'last_used_at',
} as const;

export async function createToken(
  database: Database,
  token: { appId: number; name: string; scope: Token['scope']; tokenHash: Buffer; shownPrefix: string },
): Promise<void> {
  await database('tokens').insert({
    app_id: token.appId,
    name: token.name,
    scope: token.scope,
    token_hash: token.tokenHash,
    shown_prefix: token.shownPrefix,
  });
}

/** Finds a token by its hash and notes that it was used. */
export async function useToken(database: Database, tokenHash: Buffer): Promise<Token | null> {
  const token = await database('tokens').where({ token_hash: tokenHash }).first(tokenColumns);
  if (!token) return null;
  await database('tokens').where({ id: token.id }).update({ last_used_at: new Date() });
  return token;
}

export async function listTokens(database: Database, appId: number): Promise<Token[]> {
  return database('tokens').where({ app_id: appId }).orderBy('id').select(tokenColumns);
}

export async function revokeToken(database: Database, appId: number, id: number): Promise<boolean> {
  const changed = await database('tokens').where({ app_id: appId, id, revoked_at: null }).update({ revoked_at: new Date() });
  return changed > 0;
}
