import { loadReportView } from '@rough-ember/server/desk/case-file';
import { ApiError } from '@rough-ember/server/errors';
import { deleteOneReport } from '@rough-ember/server/privacy/delete';
import type { APIRoute } from 'astro';
import { z } from 'zod';
import { json, requireAppRight } from '../../../../../../server-side';

const idSchema = z.uuid();

export const GET: APIRoute = async (context) => {
  const { app } = await requireAppRight(context);
  const id = idSchema.safeParse(context.params.id);
  const report = id.success ? await loadReportView(context.locals.services, app, id.data) : null;
  if (!report) throw new ApiError('not-found', `There is no report ${(context.params.id ?? '').slice(0, 40)} in ${app.name}.`);
  return json(report);
};

/** Deletes one report for good. */
export const DELETE: APIRoute = async (context) => {
  const { app } = await requireAppRight(context, 'developer');
  const id = idSchema.safeParse(context.params.id);
  if (!id.success) throw new ApiError('not-found', `There is no report ${(context.params.id ?? '').slice(0, 40)} in ${app.name}.`);
  await deleteOneReport(context.locals.services, app, id.data);
  return json({});
};
