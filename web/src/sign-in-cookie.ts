import { signInCookie, signInDays } from '@rough-ember/server/accounts/sign-in';
import type { APIContext } from 'astro';

/** Gives the browser the token of a sign-in: out of reach of scripts, and not sent along by other sites' writes. */
export function setSignInCookie({ cookies, locals }: Pick<APIContext, 'cookies' | 'locals'>, token: string): void {
  cookies.set(signInCookie, token, {
    httpOnly: true,
    sameSite: 'lax',
    path: '/',
    secure: locals.services.publicUrl.startsWith('https:'),
    maxAge: signInDays * 86_400,
  });
}
