import type { App } from '@rough-ember/store/apps';
import { type Token, useToken } from '@rough-ember/store/credentials';
import type { Database } from '@rough-ember/store/database';
import { ApiError } from '../errors.ts';
import { bearer, hashSecret } from './secrets.ts';

/** The upload token of a header, if it is one of this app. An unknown token learns nothing about which apps exist. */
export async function requireUploadToken(database: Database, header: string | null | undefined, app: App | null): Promise<Token> {
  const secret = bearer(header);
  if (secret === null) throw new ApiError('token-missing', 'The authorization header does not read "Bearer <upload token>".');
  const token = await useToken(database, hashSecret(secret));
  if (!token) throw new ApiError('token-unknown', 'No app of this server has this upload token.');
  if (token.revokedAt) throw new ApiError('token-unknown', `The upload token "${token.name}" was revoked.`);
  if (app && token.appId !== app.id) throw new ApiError('not-allowed', `This upload token belongs to another app than "${app.slug}".`);
  return token;
}
