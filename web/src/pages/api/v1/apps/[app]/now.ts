import { loadNow } from '@rough-ember/server/now/load-now';
import type { APIRoute } from 'astro';
import { z } from 'zod';
import { json, readParameters, requireAppRight } from '../../../../../server-side';

export const GET: APIRoute = async (context) => {
  const { app } = await requireAppRight(context);
  const { since } = readParameters(context, z.object({ since: z.iso.datetime({ offset: true }).optional() }));
  return json(await loadNow(context.locals.services, app, { since: since === undefined ? null : new Date(since), now: new Date() }));
};
