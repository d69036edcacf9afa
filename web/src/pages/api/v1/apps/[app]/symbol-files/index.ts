import { loadSymbolOverview } from '@rough-ember/server/symbols/symbol-overview';
import type { APIRoute } from 'astro';
import { json, requireAppRight } from '../../../../../../server-side';

export const GET: APIRoute = async (context) => {
  return json(await loadSymbolOverview(context.locals.services.database, (await requireAppRight(context)).app));
};
