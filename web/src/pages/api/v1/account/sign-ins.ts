import { signOutEverywhere } from '@rough-ember/server/accounts/people';
import { signInCookie } from '@rough-ember/server/accounts/sign-in';
import type { APIRoute } from 'astro';
import { json, requireAccount } from '../../../../server-side';

/** Signs whoever asks out on every device, this one too. */
export const DELETE: APIRoute = async (context) => {
  const ended = await signOutEverywhere(context.locals.services.database, requireAccount(context));
  context.cookies.delete(signInCookie, { path: '/' });
  return json({ ended });
};
