import { issueIntakeKey } from '@rough-ember/server/intake/intake-overview';
import type { APIRoute } from 'astro';
import { credentialNameSchema, json, readJson, requireAccount, requireApp } from '../../../../../../server-side';

export const POST: APIRoute = async (context) => {
  requireAccount(context, 'developer');
  const app = await requireApp(context);
  const { name } = await readJson(context, credentialNameSchema);
  return json({ key: await issueIntakeKey(context.locals.services.database, { appId: app.id, name }) }, 201);
};
