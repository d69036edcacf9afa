import { dropView } from '@rough-ember/server/desk/views';
import type { APIRoute } from 'astro';
import { json, requireAppRight, requireId } from '../../../../../../server-side';

export const DELETE: APIRoute = async (context) => {
  const { app, by } = await requireAppRight(context, 'developer');
  await dropView(context.locals.services, app, { id: requireId(context), person: by });
  return json({});
};
