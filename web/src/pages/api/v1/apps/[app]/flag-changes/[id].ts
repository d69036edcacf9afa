import { removeRecord } from '@rough-ember/server/versions/record-changes';
import type { APIRoute } from 'astro';
import { json, requireAppRight, requireId } from '../../../../../../server-side';

export const DELETE: APIRoute = async (context) => {
  const { app } = await requireAppRight(context, 'developer');
  await removeRecord(context.locals.services, app, 'flag', requireId(context));
  return json({ removed: true });
};
