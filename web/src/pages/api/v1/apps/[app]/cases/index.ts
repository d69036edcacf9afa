import { loadCaseList } from '@rough-ember/server/desk/case-list';
import type { APIRoute } from 'astro';
import { json, listPosition, requireAppRight, requireCaseOrder, requireScope } from '../../../../../../server-side';

export const GET: APIRoute = async (context) => {
  const { app } = await requireAppRight(context);
  const query = { app, scope: requireScope(context), order: requireCaseOrder(context), from: listPosition(context), now: new Date() };
  return json(await loadCaseList(context.locals.services, query));
};
