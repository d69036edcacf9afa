import { signIn, signInCookie, signInDays } from '@rough-ember/server/accounts/sign-in';
import type { APIRoute } from 'astro';
import { z } from 'zod';
import { json, readJson } from '../../../server-side';

const body = z.object({ email: z.string().min(1).max(254), password: z.string().min(1).max(500) });

export const POST: APIRoute = async (context) => {
  const token = await signIn(context.locals.services.database, await readJson(context, body));
  context.cookies.set(signInCookie, token, {
    httpOnly: true,
    sameSite: 'lax',
    path: '/',
    secure: context.locals.services.publicUrl.startsWith('https:'),
    maxAge: signInDays * 86_400,
  });
  return json({ signedIn: true });
};
