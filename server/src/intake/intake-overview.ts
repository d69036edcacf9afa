import type { AccountRole } from '@rough-ember/store/accounts';
import type { App } from '@rough-ember/store/apps';
import { createIntakeKey, createToken, listIntakeKeys, listTokens } from '@rough-ember/store/credentials';
import type { Database } from '@rough-ember/store/database';
import { type IntakeEntry, listIntakeLog } from '@rough-ember/store/intake-log';
import { hashSecret, makeSecret } from '../accounts/secrets.ts';

export interface IntakeKeyView {
  readonly id: number;
  readonly name: string;
  readonly keyText: string;
  readonly createdAt: string;
  readonly revokedAt: string | null;
}

export interface TokenView {
  readonly id: number;
  readonly name: string;
  readonly shownPrefix: string;
  readonly createdAt: string;
  readonly revokedAt: string | null;
  readonly lastUsedAt: string | null;
}

export interface IntakeOverview {
  readonly keys: readonly IntakeKeyView[];
  readonly tokens: readonly TokenView[];
  readonly log: readonly (Omit<IntakeEntry, 'at'> & { readonly at: string })[];
}

const loggedRequests = 200;

/** Keys, tokens and the latest requests. Requests whose key belongs to no app are shown to owners only. */
export async function loadIntakeOverview(database: Database, { app, role }: { app: App; role: AccountRole }): Promise<IntakeOverview> {
  const [keys, tokens, log] = await Promise.all([
    listIntakeKeys(database, app.id),
    listTokens(database, app.id),
    listIntakeLog(database, { appId: app.id, strangers: role === 'owner', limit: loggedRequests }),
  ]);
  return {
    keys: keys.map(({ id, name, keyText, createdAt, revokedAt }) => ({
      id,
      name,
      keyText,
      createdAt: createdAt.toISOString(),
      revokedAt: revokedAt?.toISOString() ?? null,
    })),
    tokens: tokens.map(({ id, name, shownPrefix, createdAt, revokedAt, lastUsedAt }) => ({
      id,
      name,
      shownPrefix,
      createdAt: createdAt.toISOString(),
      revokedAt: revokedAt?.toISOString() ?? null,
      lastUsedAt: lastUsedAt?.toISOString() ?? null,
    })),
    log: log.map((entry) => ({ ...entry, at: entry.at.toISOString() })),
  };
}

/** Makes an intake key; it may be public, so it can be shown again at any time. */
export async function issueIntakeKey(database: Database, { appId, name }: { appId: number; name: string }): Promise<string> {
  const keyText = makeSecret('intake', 18);
  await createIntakeKey(database, { appId, name, keyText });
  return keyText;
}

const shownTokenCharacters = 12;

/** Makes an upload token; only its hash is kept, so this is the one time it can be shown. */
export async function issueUploadToken(database: Database, { appId, name }: { appId: number; name: string }): Promise<string> {
  const token = makeSecret('upload');
  await createToken(database, {
    appId,
    name,
    scope: 'upload',
    tokenHash: hashSecret(token),
    shownPrefix: token.slice(0, shownTokenCharacters),
  });
  return token;
}
