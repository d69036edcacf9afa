import { loadReportView } from '@rough-ember/server/desk/case-file';
import { ApiError } from '@rough-ember/server/errors';
import type { APIRoute } from 'astro';
import { z } from 'zod';
import { json, requireAppRight } from '../../../../../../server-side';

export const GET: APIRoute = async (context) => {
  const { app } = await requireAppRight(context);
  const id = z.uuid().safeParse(context.params.id);
  const report = id.success ? await loadReportView(context.locals.services, app, id.data) : null;
  if (!report) throw new ApiError('not-found', `There is no report ${(context.params.id ?? '').slice(0, 40)} in ${app.name}.`);
  return json(report);
};
