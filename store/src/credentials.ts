import { type KeyRules, keyRulesSchema } from '@rough-ember/core/report/key-rules';
import type { Database } from './database.ts';

/** Write-only and shipped inside apps. */
export interface IntakeKey {
  readonly id: number;
  readonly appId: number;
  readonly name: string;
  readonly keyText: string;
  readonly createdAt: Date;
  readonly revokedAt: Date | null;
  readonly lastUsedAt: Date | null;
  readonly rules: KeyRules;
}

const keyColumns = {
  id: 'id',
  appId: 'app_id',
  name: 'name',
  keyText: 'key_text',
  createdAt: 'created_at',
  revokedAt: 'revoked_at',
  lastUsedAt: 'last_used_at',
  rules: 'rules',
} as const;

/** Rules as they are stored may be older than a field; it takes its default then. */
const withRules = <Row extends { rules: unknown }>(row: Row): Row & { rules: KeyRules } => ({
  ...row,
  rules: keyRulesSchema.parse(row.rules),
});

export async function createIntakeKey(database: Database, key: { appId: number; name: string; keyText: string }): Promise<void> {
  await database('intake_keys').insert({ app_id: key.appId, name: key.name, key_text: key.keyText });
}

export async function findIntakeKey(database: Database, keyText: string): Promise<IntakeKey | null> {
  const row = await database('intake_keys').where({ key_text: keyText }).first(keyColumns);
  return row ? withRules(row) : null;
}

export async function listIntakeKeys(database: Database, appId: number): Promise<IntakeKey[]> {
  return (await database('intake_keys').where({ app_id: appId }).orderBy('id').select(keyColumns)).map(withRules);
}

/** Changes name and rules of a key of the app; false when there is no such key in use. */
export async function changeIntakeKey(
  database: Database,
  { appId, id, name, rules }: { appId: number; id: number; name: string; rules: KeyRules },
): Promise<boolean> {
  const changed = await database('intake_keys')
    .where({ app_id: appId, id, revoked_at: null })
    .update({ name, rules: JSON.stringify(rules) });
  return changed > 0;
}

/**
 * Counts items against a key's limit and gives how many this minute has had with them, over all processes. Counts of past
 * minutes are dropped now and then.
 */
export async function countItems(database: Database, keyId: number, items: number, minute: number): Promise<number> {
  await database.raw(
    'INSERT INTO intake_rates (key_id, minute, items) VALUES (?, ?, ?) ON DUPLICATE KEY UPDATE items = items + VALUES(items)',
    [keyId, minute, items],
  );
  const row = await database('intake_rates').where({ key_id: keyId, minute }).first('items');
  return Number(row?.items ?? items);
}

const useNotedEveryMs = 10_000;

/** Notes that a key was used, at most once in ten seconds. */
export async function noteKeyUse(database: Database, key: IntakeKey, now: Date): Promise<void> {
  if (key.lastUsedAt && now.getTime() - key.lastUsedAt.getTime() < useNotedEveryMs) return;
  await database('intake_keys').where({ id: key.id }).update({ last_used_at: now });
}

/** Revokes a key of the app; false when there is no such key, or it was revoked before. */
export async function revokeIntakeKey(database: Database, appId: number, id: number): Promise<boolean> {
  const changed = await database('intake_keys').where({ app_id: appId, id, revoked_at: null }).update({ revoked_at: new Date() });
  return changed > 0;
}

export const tokenScopes = ['upload', 'read', 'write'] as const;
export type TokenScope = (typeof tokenScopes)[number];

/** Secret; only its hash is kept. */
export interface Token {
  readonly id: number;
  readonly appId: number;
  readonly name: string;
  readonly scope: TokenScope;
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
  token: { appId: number; name: string; scope: Token['scope']; tokenHash: Buffer; shownPrefix: string; madeBy: string | null },
): Promise<void> {
  await database('tokens').insert({
    app_id: token.appId,
    name: token.name,
    scope: token.scope,
    token_hash: token.tokenHash,
    shown_prefix: token.shownPrefix,
    made_by: token.madeBy,
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
