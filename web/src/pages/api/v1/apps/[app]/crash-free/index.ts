import { loadCrashFree } from '@rough-ember/server/stability/crash-free';
import type { APIRoute } from 'astro';
import { json, requireAppRight, requireStability } from '../../../../../../server-side';

export const GET: APIRoute = async (context) => {
  const { app } = await requireAppRight(context);
  return json(await loadCrashFree(context.locals.services, requireStability(context, app)));
};
