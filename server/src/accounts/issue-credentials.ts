import { createIntakeKey, createToken, type TokenScope } from '@rough-ember/store/credentials';
import type { Database } from '@rough-ember/store/database';
import { hashSecret, makeSecret } from './secrets.ts';

/** Makes an intake key; it may be public, so it can be shown again at any time. */
export async function issueIntakeKey(database: Database, { appId, name }: { appId: number; name: string }): Promise<string> {
  const keyText = makeSecret('intake', 18);
  await createIntakeKey(database, { appId, name, keyText });
  return keyText;
}

const shownTokenCharacters = 12;

/** Makes a token; only its hash is kept, so this is the one time it can be shown. */
export async function issueToken(
  database: Database,
  { appId, name, scope, madeBy = null }: { appId: number; name: string; scope: TokenScope; madeBy?: string | null },
): Promise<string> {
  const token = makeSecret(scope);
  await createToken(database, {
    appId,
    name,
    scope,
    tokenHash: hashSecret(token),
    shownPrefix: token.slice(0, shownTokenCharacters),
    madeBy,
  });
  return token;
}
