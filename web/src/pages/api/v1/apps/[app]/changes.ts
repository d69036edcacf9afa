import { changeStream } from '@rough-ember/server/http/change-stream';
import type { APIRoute } from 'astro';
import { requireAppRight } from '../../../../../server-side';

export const GET: APIRoute = async (context) => {
  return changeStream(context.locals.services, (await requireAppRight(context)).app.id);
};
