import { signedInAccount, signInCookie } from '@rough-ember/server/accounts/sign-in';
import { isTokenInUse } from '@rough-ember/server/accounts/tokens';
import { changeStream } from '@rough-ember/server/http/change-stream';
import type { APIRoute } from 'astro';
import { requireAppRight } from '../../../../../server-side';

export const GET: APIRoute = async (context) => {
  const { app } = await requireAppRight(context);
  const { services, account } = context.locals;
  const { database } = services;
  const signIn = context.cookies.get(signInCookie)?.value;
  const header = context.request.headers.get('authorization');
  return changeStream(services, app.id, async () =>
    account ? (await signedInAccount(database, signIn)) !== null : isTokenInUse(database, header),
  );
};
