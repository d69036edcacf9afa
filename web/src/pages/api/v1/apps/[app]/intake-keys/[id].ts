import { ApiError } from '@rough-ember/server/errors';
import { revokeIntakeKey } from '@rough-ember/store/credentials';
import type { APIRoute } from 'astro';
import { json, requireAccount, requireApp, requireId } from '../../../../../../server-side';

/** Revokes the key: apps that ship with it are refused from now on. */
export const DELETE: APIRoute = async (context) => {
  requireAccount(context, 'developer');
  const app = await requireApp(context);
  const revoked = await revokeIntakeKey(context.locals.services.database, app.id, requireId(context));
  if (!revoked) throw new ApiError('not-found', 'There is no such key in use.');
  return json({ revoked });
};
