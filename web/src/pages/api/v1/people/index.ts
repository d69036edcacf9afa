import { invitationSchema, invite, loadPeople } from '@rough-ember/server/accounts/people';
import type { APIRoute } from 'astro';
import { json, readJson, requireAccount } from '../../../../server-side';

export const GET: APIRoute = async (context) => {
  requireAccount(context, 'owner');
  return json(await loadPeople(context.locals.services.database));
};

/** Invites somebody; the link in the answer is shown once. */
export const POST: APIRoute = async (context) => {
  const { email: invitedBy } = requireAccount(context, 'owner');
  const { database, publicUrl } = context.locals.services;
  return json({ link: await invite(database, { ...(await readJson(context, invitationSchema)), invitedBy, publicUrl }) }, 201);
};
