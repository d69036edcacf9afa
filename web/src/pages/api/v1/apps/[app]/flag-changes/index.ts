import { flagChangeSchema } from '@rough-ember/core/rollouts/rollouts';
import { recordFlagChange } from '@rough-ember/server/versions/record-changes';
import { listFlagChanges } from '@rough-ember/store/rollouts';
import type { APIRoute } from 'astro';
import { json, readJson, requireAppRight } from '../../../../../../server-side';

export const GET: APIRoute = async (context) => {
  const { app } = await requireAppRight(context);
  return json(await listFlagChanges(context.locals.services.database, app.id));
};

export const POST: APIRoute = async (context) => {
  const { app, by } = await requireAppRight(context, 'developer');
  return json(await recordFlagChange(context.locals.services, app, { ...(await readJson(context, flagChangeSchema)), by }), 201);
};
