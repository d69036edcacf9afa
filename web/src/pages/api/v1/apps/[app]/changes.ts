import { changeStream } from '@rough-ember/server/http/change-stream';
import type { APIRoute } from 'astro';
import { requireAccount, requireApp } from '../../../../../server-side';

export const GET: APIRoute = async (context) => {
  requireAccount(context);
  return changeStream(context.locals.services, (await requireApp(context)).id);
};
