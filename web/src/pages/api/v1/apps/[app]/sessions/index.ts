import { loadSessions, sessionsSchema } from '@rough-ember/server/stability/sessions';
import type { APIRoute } from 'astro';
import { json, readParameters, requireAppRight, requireScope } from '../../../../../../server-side';

export const GET: APIRoute = async (context) => {
  const { app } = await requireAppRight(context);
  const { end } = readParameters(context, sessionsSchema);
  return json(await loadSessions(context.locals.services, { app, scope: requireScope(context), end, now: new Date() }));
};
