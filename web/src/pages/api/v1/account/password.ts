import { changePassword, passwordChangeSchema } from '@rough-ember/server/accounts/people';
import { signInCookie } from '@rough-ember/server/accounts/sign-in';
import type { APIRoute } from 'astro';
import { json, judgePassword, readJson, requireAccount } from '../../../../server-side';

/** Changes the password of whoever asks; every other sign-in of theirs ends. */
export const POST: APIRoute = async (context) => {
  const account = requireAccount(context);
  const { database, workers } = context.locals.services;
  const signInToken = context.cookies.get(signInCookie)?.value ?? '';
  await changePassword(database, judgePassword(workers), account, {
    ...(await readJson(context, passwordChangeSchema)),
    signInToken,
    from: context.locals.remoteAddress,
  });
  return json({ changed: true });
};
