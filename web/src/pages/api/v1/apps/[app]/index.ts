import { appDeletionSchema, deleteWholeApp } from '@rough-ember/server/privacy/delete';
import type { APIRoute } from 'astro';
import { json, readJson, requireAppRight } from '../../../../../server-side';

/** Deletes the app with everything it holds. */
export const DELETE: APIRoute = async (context) => {
  const { app } = await requireAppRight(context, 'owner');
  await deleteWholeApp(context.locals.services, app, await readJson(context, appDeletionSchema));
  return json({}, 202);
};
