import { withdrawInvitation } from '@rough-ember/server/accounts/people';
import type { APIRoute } from 'astro';
import { json, requireAccount, requireId } from '../../../../server-side';

export const DELETE: APIRoute = async (context) => {
  requireAccount(context, 'owner');
  await withdrawInvitation(context.locals.services.database, requireId(context));
  return json({ withdrawn: true });
};
