import { rolloutSchema } from '@rough-ember/core/rollouts/rollouts';
import { recordRollout } from '@rough-ember/server/versions/record-changes';
import { listRolloutSteps } from '@rough-ember/store/rollouts';
import type { APIRoute } from 'astro';
import { json, readJson, requireAppRight } from '../../../../../../server-side';

export const GET: APIRoute = async (context) => {
  const { app } = await requireAppRight(context);
  return json(await listRolloutSteps(context.locals.services.database, app.id));
};

export const POST: APIRoute = async (context) => {
  const { app, by } = await requireAppRight(context, 'developer');
  return json(await recordRollout(context.locals.services, app, { ...(await readJson(context, rolloutSchema)), by }), 201);
};
