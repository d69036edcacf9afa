import { loadIntakeOverview } from '@rough-ember/server/intake/intake-overview';
import type { APIRoute } from 'astro';
import { json, requireAccount, requireApp } from '../../../../../server-side';

export const GET: APIRoute = async (context) => {
  const { role } = requireAccount(context);
  return json(await loadIntakeOverview(context.locals.services.database, { app: await requireApp(context), role }));
};
