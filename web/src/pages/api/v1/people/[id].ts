import { roleSchema, setRole } from '@rough-ember/server/accounts/people';
import type { APIRoute } from 'astro';
import { json, readJson, requireAccount, requireId } from '../../../../server-side';

export const PUT: APIRoute = async (context) => {
  requireAccount(context, 'owner');
  const { role } = await readJson(context, roleSchema);
  await setRole(context.locals.services.database, requireId(context), role);
  return json({ role });
};

/** Takes an account away; whoever it was is signed out everywhere. */
export const DELETE: APIRoute = async (context) => {
  requireAccount(context, 'owner');
  await setRole(context.locals.services.database, requireId(context), null);
  return json({ removed: true });
};
