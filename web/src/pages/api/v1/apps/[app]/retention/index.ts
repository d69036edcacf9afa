import { retentionSchema } from '@rough-ember/core/report/retention';
import { loadRetention, setRetention } from '@rough-ember/server/privacy/retention';
import type { APIRoute } from 'astro';
import { json, readJson, requireAppRight } from '../../../../../../server-side';

export const GET: APIRoute = async (context) => {
  const { app } = await requireAppRight(context);
  return json(await loadRetention(context.locals.services, app));
};

export const PUT: APIRoute = async (context) => {
  const { app } = await requireAppRight(context, 'owner');
  const retention = await readJson(context, retentionSchema);
  await setRetention(context.locals.services, app, retention);
  return json(retention, 202);
};
