import { loadCaseList } from '@rough-ember/server/desk/case-list';
import type { APIRoute } from 'astro';
import { json, requireAppRight, requireScope } from '../../../../../../server-side';

export const GET: APIRoute = async (context) => {
  const { app } = await requireAppRight(context);
  return json(await loadCaseList(context.locals.services.database, { app, scope: requireScope(context), now: new Date() }));
};
