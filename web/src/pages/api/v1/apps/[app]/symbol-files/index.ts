import { loadSymbolOverview } from '@rough-ember/server/symbols/symbol-overview';
import type { APIRoute } from 'astro';
import { json, requireAccount, requireApp } from '../../../../../../server-side';

export const GET: APIRoute = async (context) => {
  requireAccount(context);
  return json(await loadSymbolOverview(context.locals.services.database, await requireApp(context)));
};
