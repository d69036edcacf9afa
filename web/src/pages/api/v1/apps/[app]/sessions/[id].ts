import { loadSession } from '@rough-ember/server/stability/sessions';
import type { APIRoute } from 'astro';
import { json, requireAppRight } from '../../../../../../server-side';

export const GET: APIRoute = async (context) => {
  const { app } = await requireAppRight(context);
  return json(await loadSession(context.locals.services, app, context.params.id ?? '', new Date()));
};
