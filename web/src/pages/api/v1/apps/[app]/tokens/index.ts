import { issueToken, newTokenSchema } from '@rough-ember/server/intake/intake-overview';
import type { APIRoute } from 'astro';
import { json, readJson, requireAccount, requireApp } from '../../../../../../server-side';

/** Makes a token; the answer is the only place where it is ever shown. */
export const POST: APIRoute = async (context) => {
  const { email } = requireAccount(context, 'developer');
  const app = await requireApp(context);
  const wanted = await readJson(context, newTokenSchema);
  return json({ token: await issueToken(context.locals.services.database, { appId: app.id, ...wanted, madeBy: email }) }, 201);
};
