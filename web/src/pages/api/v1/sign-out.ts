import { signInCookie, signOut } from '@rough-ember/server/accounts/sign-in';
import type { APIRoute } from 'astro';
import { json, requireAccount } from '../../../server-side';

export const POST: APIRoute = async (context) => {
  requireAccount(context);
  const token = context.cookies.get(signInCookie)?.value;
  if (token) await signOut(context.locals.services.database, token);
  context.cookies.delete(signInCookie, { path: '/' });
  return json({ signedOut: true });
};
