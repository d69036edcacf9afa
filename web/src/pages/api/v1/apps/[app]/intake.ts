import { intakeQuerySchema, loadIntakeOverview } from '@rough-ember/server/intake/intake-overview';
import type { APIRoute } from 'astro';
import { json, readParameters, requireAppRight } from '../../../../../server-side';

export const GET: APIRoute = async (context) => {
  const { app, role } = await requireAppRight(context);
  return json(
    await loadIntakeOverview(context.locals.services.database, {
      app,
      role,
      now: new Date(),
      query: readParameters(context, intakeQuerySchema),
    }),
  );
};
