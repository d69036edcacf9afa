import { loadCaseFile } from '@rough-ember/server/desk/case-file';
import { ApiError } from '@rough-ember/server/errors';
import { deleteWholeCase } from '@rough-ember/server/privacy/delete';
import type { APIRoute } from 'astro';
import { json, reportPosition, requireAppRight, requireScope } from '../../../../../../../server-side';

export const GET: APIRoute = async (context) => {
  const { app } = await requireAppRight(context);
  const ref = context.params.ref ?? '';
  const query = { app, ref, scope: requireScope(context), position: reportPosition(context), now: new Date() };
  const file = await loadCaseFile(context.locals.services, query);
  if (!file) throw new ApiError('not-found', `There is no case ${ref.slice(0, 30)} in ${app.name}.`);
  return json(file);
};

/** Deletes a case with its reports for good; they go by and by. */
export const DELETE: APIRoute = async (context) => {
  const { app } = await requireAppRight(context, 'developer');
  return json(await deleteWholeCase(context.locals.services, app, context.params.ref ?? ''), 202);
};
