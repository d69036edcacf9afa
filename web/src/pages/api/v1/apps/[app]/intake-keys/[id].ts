import { ApiError } from '@rough-ember/server/errors';
import { keyChangeSchema } from '@rough-ember/server/intake/intake-overview';
import { changeIntakeKey, revokeIntakeKey } from '@rough-ember/store/credentials';
import type { APIRoute } from 'astro';
import { json, readJson, requireAccount, requireApp, requireId } from '../../../../../../server-side';

/** Revokes the key: apps that ship with it are refused from now on. */
export const DELETE: APIRoute = async (context) => {
  requireAccount(context, 'developer');
  const app = await requireApp(context);
  const revoked = await revokeIntakeKey(context.locals.services.database, app.id, requireId(context));
  if (!revoked) throw new ApiError('not-found', 'There is no such key in use.');
  return json({ revoked });
};

/** Changes the name of a key, and what it takes. */
export const PUT: APIRoute = async (context) => {
  requireAccount(context, 'developer');
  const app = await requireApp(context);
  const change = await readJson(context, keyChangeSchema);
  const changed = await changeIntakeKey(context.locals.services.database, { appId: app.id, id: requireId(context), ...change });
  if (!changed) throw new ApiError('not-found', 'There is no such key in use.');
  context.locals.services.changes.note(app.id);
  return json({ changed });
};
