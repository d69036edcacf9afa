import { loadKin } from '@rough-ember/server/desk/case-evidence';
import type { APIRoute } from 'astro';
import { json, requireAppRight } from '../../../../../../../server-side';

export const GET: APIRoute = async (context) => {
  const { app } = await requireAppRight(context);
  return json(await loadKin(context.locals.services, { app, ref: context.params.ref ?? '' }));
};
