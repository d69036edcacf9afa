import { operation, rowNumber } from '../operation/operation.ts';
import { appFactsSchema, changeAppFacts, loadAppSettings, undoSettingChange } from './load-settings.ts';
import { loadServerSettings } from './server-settings.ts';

/** What apps and the server are set to, in one place. */
export const settingOperations = [
  operation('GET /apps/{app}/settings', {
    does: 'Everything that an app is set to, and the latest changes of it.',
    right: 'read',
    run: ({ services, app, now }) => loadAppSettings(services, app, now),
  }),
  operation('PUT /apps/{app}', {
    does: 'Changes what an app is called, is for, and which packages are its own; its short name and prefix stay.',
    right: 'change',
    body: appFactsSchema,
    run: async ({ services, app, by, body }) => {
      await changeAppFacts(services, app, body, by);
      return body;
    },
  }),
  operation('POST /apps/{app}/settings/changes/{id}/undo', {
    does: 'Sets something back to what it was before a change, unless it was changed again since.',
    right: 'change',
    run: async ({ services, app, by, role, path }) => {
      await undoSettingChange(services, app, rowNumber(path.id), { by, role });
      return {};
    },
  }),
  operation('GET /server-settings', {
    does: 'How the server is set up, and what takes how much of its disk.',
    right: 'owner',
    run: ({ services, now }) => loadServerSettings(services, now),
  }),
] as const;
