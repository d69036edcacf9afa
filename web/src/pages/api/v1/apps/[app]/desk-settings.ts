import { deskSettingsSchema } from '@rough-ember/core/cases/desk-settings';
import { changeDeskSettings, readDeskSettings } from '@rough-ember/store/apps';
import type { APIRoute } from 'astro';
import { json, readJson, requireAppRight } from '../../../../../server-side';

export const GET: APIRoute = async (context) => {
  const { app } = await requireAppRight(context);
  return json(await readDeskSettings(context.locals.services.database, app.id));
};

export const PUT: APIRoute = async (context) => {
  const { app } = await requireAppRight(context, 'developer');
  const settings = await readJson(context, deskSettingsSchema);
  await changeDeskSettings(context.locals.services.database, app.id, settings);
  context.locals.services.changes.note(app.id);
  return json(settings);
};
