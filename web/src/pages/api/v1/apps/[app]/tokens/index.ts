import { issueUploadToken } from '@rough-ember/server/intake/intake-overview';
import type { APIRoute } from 'astro';
import { credentialNameSchema, json, readJson, requireAccount, requireApp } from '../../../../../../server-side';

/** Makes an upload token; the answer is the only place where it is ever shown. */
export const POST: APIRoute = async (context) => {
  requireAccount(context, 'developer');
  const app = await requireApp(context);
  const { name } = await readJson(context, credentialNameSchema);
  return json({ token: await issueUploadToken(context.locals.services.database, { appId: app.id, name }) }, 201);
};
