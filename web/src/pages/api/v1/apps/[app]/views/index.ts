import { loadViews, saveView, viewSchema } from '@rough-ember/server/desk/views';
import type { APIRoute } from 'astro';
import { json, readJson, requireAppRight } from '../../../../../../server-side';

export const GET: APIRoute = async (context) => {
  const { app, by } = await requireAppRight(context);
  return json(await loadViews(context.locals.services, app, by));
};

export const POST: APIRoute = async (context) => {
  const { app, by } = await requireAppRight(context, 'developer');
  return json(await saveView(context.locals.services, app, { ...(await readJson(context, viewSchema)), person: by }), 201);
};
