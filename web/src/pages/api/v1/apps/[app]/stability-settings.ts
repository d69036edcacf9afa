import { loadStabilitySettings, saveStabilitySettings, stabilitySettingsSchema } from '@rough-ember/server/stability/settings';
import type { APIRoute } from 'astro';
import { json, readJson, requireAppRight } from '../../../../../server-side';

export const GET: APIRoute = async (context) => {
  const { app } = await requireAppRight(context);
  return json(await loadStabilitySettings(context.locals.services, app));
};

export const PUT: APIRoute = async (context) => {
  const { app } = await requireAppRight(context, 'developer');
  const settings = await readJson(context, stabilitySettingsSchema);
  await saveStabilitySettings(context.locals.services, app, settings);
  return json(settings);
};
