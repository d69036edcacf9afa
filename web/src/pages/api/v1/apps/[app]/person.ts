import { forgetPerson, loadPerson } from '@rough-ember/server/desk/person';
import type { APIRoute } from 'astro';
import { z } from 'zod';
import { json, readParameters, requireAppRight } from '../../../../../server-side';

const personSchema = z.object({ id: z.string().trim().min(1).max(200) });

export const GET: APIRoute = async (context) => {
  const { app } = await requireAppRight(context);
  return json(await loadPerson(context.locals.services, { app, ...readParameters(context, personSchema), now: new Date() }));
};

export const DELETE: APIRoute = async (context) => {
  const { app } = await requireAppRight(context, 'owner');
  return json(await forgetPerson(context.locals.services, app, readParameters(context, personSchema).id));
};
