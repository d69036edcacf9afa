import { findIntakeKey, type IntakeKey } from '@rough-ember/store/credentials';
import type { Database } from '@rough-ember/store/database';
import { bearer } from '../accounts/secrets.ts';
import { ApiError } from '../errors.ts';

/** How much of a key that nobody knows is shown in the log: enough to recognise it. */
const shownKeyCharacters = 14;

/** The key of an intake request, or the refusal; the refusal carries what the log may show. */
export async function authoriseIntake(
  database: Database,
  header: string | undefined,
): Promise<{ ok: true; key: IntakeKey } | { ok: false; error: ApiError; appId: number | null; keyName: string | null }> {
  const text = bearer(header);
  if (text === null)
    return {
      ok: false,
      error: new ApiError(
        'key-missing',
        header === undefined ? 'The request has no authorization header.' : 'The authorization header does not read "Bearer <intake key>".',
      ),
      appId: null,
      keyName: null,
    };
  const key = await findIntakeKey(database, text);
  if (!key)
    return {
      ok: false,
      error: new ApiError('key-unknown', 'No app of this server has this intake key.'),
      appId: null,
      keyName: `${text.slice(0, shownKeyCharacters)}…`,
    };
  if (key.revokedAt) {
    const error = new ApiError('key-revoked', `The intake key "${key.name}" was revoked on ${key.revokedAt.toISOString().slice(0, 10)}.`);
    return { ok: false, error, appId: key.appId, keyName: key.name };
  }
  return { ok: true, key };
}
