import { loadCaseList } from '@rough-ember/server/desk/case-list';
import type { APIRoute } from 'astro';
import { json, requireAccount, requireApp, requireScope } from '../../../../../../server-side';

export const GET: APIRoute = async (context) => {
  requireAccount(context);
  const app = await requireApp(context);
  return json(await loadCaseList(context.locals.services.database, { app, scope: requireScope(context), now: new Date() }));
};
