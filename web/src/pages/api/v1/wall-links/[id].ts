import { endWallLink } from '@rough-ember/server/wall/wall-links';
import type { APIRoute } from 'astro';
import { json, requireAccount, requireId } from '../../../../server-side';

/** Revokes a link; walls that show it go dark at their next look. */
export const DELETE: APIRoute = async (context) => {
  const account = requireAccount(context, 'developer');
  await endWallLink(context.locals.services.database, requireId(context), account);
  return json({ revoked: true });
};
