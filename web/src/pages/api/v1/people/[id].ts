import { accountChangeSchema, setReach, setRole } from '@rough-ember/server/accounts/people';
import type { APIRoute } from 'astro';
import { json, readJson, requireAccount, requireId } from '../../../../server-side';

export const PUT: APIRoute = async (context) => {
  requireAccount(context, 'owner');
  const { database } = context.locals.services;
  const { role, apps } = await readJson(context, accountChangeSchema);
  if (role !== undefined) await setRole(database, requireId(context), role);
  if (apps !== undefined) await setReach(database, requireId(context), apps);
  return json({ role, apps });
};

/** Takes an account away; whoever it was is signed out everywhere. */
export const DELETE: APIRoute = async (context) => {
  requireAccount(context, 'owner');
  await setRole(context.locals.services.database, requireId(context), null);
  return json({ removed: true });
};
