import { caseActionsSchema, runCaseActions } from '@rough-ember/server/desk/case-actions';
import type { APIRoute } from 'astro';
import { json, readJson, requireAppRight } from '../../../../../../server-side';

/** Closes, opens, mutes or assigns cases, those named or all of a scope. */
export const POST: APIRoute = async (context) => {
  const { app, by } = await requireAppRight(context, 'developer');
  const request = await readJson(context, caseActionsSchema);
  return json(await runCaseActions(context.locals.services, { app, actor: by, request, now: new Date() }));
};
