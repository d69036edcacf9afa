import { readSourceLines, sourcePlaceSchema } from '@rough-ember/server/sources/source-lines';
import type { APIRoute } from 'astro';
import { json, readParameters, requireAppRight } from '../../../../../server-side';

export const GET: APIRoute = async (context) => {
  const { app } = await requireAppRight(context);
  return json(await readSourceLines(context.locals.services, app, readParameters(context, sourcePlaceSchema)));
};
