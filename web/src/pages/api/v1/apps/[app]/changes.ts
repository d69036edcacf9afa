import { signedInAccount, signInCookie } from '@rough-ember/server/accounts/sign-in';
import { changeStream } from '@rough-ember/server/http/change-stream';
import type { APIRoute } from 'astro';
import { requireAppRight } from '../../../../../server-side';

export const GET: APIRoute = async (context) => {
  const { app } = await requireAppRight(context);
  const { services, account } = context.locals;
  const token = context.cookies.get(signInCookie)?.value;
  return changeStream(services, app.id, async () => account === null || (await signedInAccount(services.database, token)) !== null);
};
