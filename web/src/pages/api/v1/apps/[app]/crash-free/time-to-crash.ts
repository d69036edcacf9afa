import { loadTimeToCrash } from '@rough-ember/server/stability/sessions';
import type { APIRoute } from 'astro';
import { json, requireAppRight, requireScope } from '../../../../../../server-side';

export const GET: APIRoute = async (context) => {
  const { app } = await requireAppRight(context);
  return json(await loadTimeToCrash(context.locals.services, { app, scope: requireScope(context), now: new Date() }));
};
