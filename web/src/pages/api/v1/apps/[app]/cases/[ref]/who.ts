import { loadWho } from '@rough-ember/server/desk/case-evidence';
import type { APIRoute } from 'astro';
import { json, requireAppRight, requireScope } from '../../../../../../../server-side';

export const GET: APIRoute = async (context) => {
  const { app } = await requireAppRight(context);
  const query = { app, ref: context.params.ref ?? '', scope: requireScope(context), now: new Date() };
  return json(await loadWho(context.locals.services, query));
};
