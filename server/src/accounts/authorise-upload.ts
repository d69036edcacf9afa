import type { IncomingMessage } from 'node:http';
import { type App, findApp } from '@rough-ember/store/apps';
import { ApiError } from '../errors.ts';
import type { Services } from '../services.ts';
import { requireSameOrigin } from './origin.ts';
import { reaches } from './reach.ts';
import { requireRole, signedInAccount, signInCookie } from './sign-in.ts';
import { requireUploadToken } from './tokens.ts';

/** The app, and who uploads: an upload token of it, or a signed-in developer in a page of this server; `mayChange` asks for a token that may. */
export async function authoriseUpload(
  services: Services,
  request: IncomingMessage,
  slug: string,
  { mayChange = false }: { readonly mayChange?: boolean } = {},
): Promise<{ app: App; uploadedBy: string }> {
  const { database, publicUrl } = services;
  const { authorization, cookie, origin, host } = request.headers;
  let found = await findApp(database, slug);
  let uploadedBy: string;
  if (authorization !== undefined) {
    const { name, scope } = await requireUploadToken(database, authorization, { app: found, slug });
    if (mayChange && scope !== 'write') throw new ApiError('not-allowed', `The token "${name}" may only upload.`);
    uploadedBy = `token ${name}`;
  } else {
    const account = await signedInAccount(database, new RegExp(`(?:^|; )${signInCookie}=([^;]+)`).exec(cookie ?? '')?.[1]);
    if (!account) throw new ApiError('token-missing', 'The request has no upload token.');
    requireSameOrigin({ origin, host, publicUrl });
    requireRole(account, 'developer');
    uploadedBy = account.email;
    if (found && !reaches(account, found.id)) found = null;
  }
  if (!found) throw new ApiError('not-found', `There is no app "${slug}".`);
  return { app: found, uploadedBy };
}
