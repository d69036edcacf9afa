import { makeUnfilterable } from '@rough-ember/server/desk/fields';
import type { APIRoute } from 'astro';
import { json, requireAppRight } from '../../../../../../server-side';

export const DELETE: APIRoute = async (context) => {
  const { app } = await requireAppRight(context, 'developer');
  await makeUnfilterable(context.locals.services, app, context.params.name ?? '');
  return json({}, 202);
};
