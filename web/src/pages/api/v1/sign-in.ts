import { signIn, signInSchema } from '@rough-ember/server/accounts/sign-in';
import type { APIRoute } from 'astro';
import { json, readJson } from '../../../server-side';
import { setSignInCookie } from '../../../sign-in-cookie';

export const POST: APIRoute = async (context) => {
  setSignInCookie(
    context,
    await signIn(context.locals.services.database, await readJson(context, signInSchema), context.locals.remoteAddress),
  );
  return json({ signedIn: true });
};
