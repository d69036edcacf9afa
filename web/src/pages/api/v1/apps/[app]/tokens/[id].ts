import { ApiError } from '@rough-ember/server/errors';
import { revokeToken } from '@rough-ember/store/credentials';
import type { APIRoute } from 'astro';
import { json, requireAccount, requireApp, requireId } from '../../../../../../server-side';

export const DELETE: APIRoute = async (context) => {
  requireAccount(context, 'developer');
  const app = await requireApp(context);
  const revoked = await revokeToken(context.locals.services.database, app.id, requireId(context));
  if (!revoked) throw new ApiError('not-found', 'There is no such token in use.');
  return json({ revoked });
};
