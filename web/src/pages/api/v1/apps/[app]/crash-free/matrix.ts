import { loadMatrix, matrixSchema } from '@rough-ember/server/stability/crash-free';
import type { APIRoute } from 'astro';
import { json, readParameters, requireAppRight, requireStability } from '../../../../../../server-side';

export const GET: APIRoute = async (context) => {
  const { app } = await requireAppRight(context);
  const { down, across } = readParameters(context, matrixSchema);
  return json(await loadMatrix(context.locals.services, requireStability(context, app), down, across));
};
