import { makeApp, newAppSchema } from '@rough-ember/server/accounts/make-app';
import type { APIRoute } from 'astro';
import { json, readJson, requireAccount } from '../../../../server-side';

export const POST: APIRoute = async (context) => {
  requireAccount(context, 'owner');
  const { slug } = await makeApp(context.locals.services.database, await readJson(context, newAppSchema));
  return json({ slug }, 201);
};
