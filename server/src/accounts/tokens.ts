import { type App, findAppById } from '@rough-ember/store/apps';
import { type Token, useToken } from '@rough-ember/store/credentials';
import type { Database } from '@rough-ember/store/database';
import { ApiError } from '../errors.ts';
import { bearer, hashSecret } from './secrets.ts';

/** The upload token of a header, if it is one of this app. */
export async function requireUploadToken(
  database: Database,
  header: string | null | undefined,
  { app, slug }: { app: App | null; slug: string },
): Promise<Token> {
  const token = await findToken(database, header);
  await requireOwnApp(database, token, { app, slug });
  if (token.scope === 'read') throw new ApiError('not-allowed', `The token "${token.name}" may only read.`);
  return token;
}

/** The token of a header, in use; whoever asks finds out what it may do. */
export async function findToken(database: Database, header: string | null | undefined): Promise<Token> {
  const secret = bearer(header);
  if (secret === null) throw new ApiError('token-missing', 'The authorization header does not read "Bearer <token>".');
  const token = await useToken(database, hashSecret(secret));
  if (!token) throw new ApiError('token-unknown', 'No app of this server has this token.');
  if (token.revokedAt) throw new ApiError('token-unknown', `The token "${token.name}" was revoked.`);
  return token;
}

/** Refuses a token of another app in the same words whether there is such an app or not: it learns nothing about which exist. */
export async function requireOwnApp(database: Database, token: Token, { app, slug }: { app: App | null; slug: string }): Promise<void> {
  if (app && token.appId === app.id) return;
  const own = await findAppById(database, token.appId);
  throw new ApiError('other-app', `The token "${token.name}" belongs to the app "${own?.slug}", not to "${slug}".`);
}

/** Whether the token of a header is still in use. */
export async function isTokenInUse(database: Database, header: string | null): Promise<boolean> {
  const secret = bearer(header);
  return secret !== null && (await useToken(database, hashSecret(secret)))?.revokedAt === null;
}

/** What a token may do, said as the role of a person: tokens to upload have none. */
export const roleOfToken = { upload: null, read: 'viewer', write: 'developer' } as const;
