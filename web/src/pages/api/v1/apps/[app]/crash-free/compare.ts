import { compareSides, sidesSchema } from '@rough-ember/server/stability/crash-free';
import type { APIRoute } from 'astro';
import { json, readParameters, requireAppRight, requireStability } from '../../../../../../server-side';

export const GET: APIRoute = async (context) => {
  const { app } = await requireAppRight(context);
  const { by, left, right } = readParameters(context, sidesSchema);
  return json(await compareSides(context.locals.services, requireStability(context, app), by, [left ?? null, right]));
};
