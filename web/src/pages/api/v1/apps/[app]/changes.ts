import { reaches } from '@rough-ember/server/accounts/reach';
import { signedInAccount, signInCookie } from '@rough-ember/server/accounts/sign-in';
import { isTokenInUse } from '@rough-ember/server/accounts/tokens';
import { changeStream } from '@rough-ember/server/http/change-stream';
import type { Database } from '@rough-ember/store/database';
import type { APIRoute } from 'astro';
import { requireAppRight } from '../../../../../server-side';

const maySee = async (database: Database, signIn: string | undefined, appId: number): Promise<boolean> => {
  const account = await signedInAccount(database, signIn);
  return account !== null && reaches(account, appId);
};

export const GET: APIRoute = async (context) => {
  const { app } = await requireAppRight(context);
  const { services, account } = context.locals;
  const { database } = services;
  const signIn = context.cookies.get(signInCookie)?.value;
  const header = context.request.headers.get('authorization');
  return changeStream(services, app.id, async () => (account ? await maySee(database, signIn, app.id) : isTokenInUse(database, header)));
};
