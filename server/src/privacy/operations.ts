import { retentionSchema } from '@rough-ember/core/report/retention';
import { scrubRulesSchema } from '@rough-ember/core/report/scrub';
import { changeAppSetting } from '@rough-ember/store/app-settings';
import { readScrubRules } from '@rough-ember/store/apps';
import { z } from 'zod';
import { forgetPerson, personSchema } from '../desk/person.ts';
import { operation } from '../operation/operation.ts';
import { appDeletionSchema, deleteOneReport, deleteWholeApp, deleteWholeCase } from './delete.ts';
import { loadRetention, previewRetention, setRetention } from './retention.ts';

/** What is kept, how long, and what is never stored. */
export const privacyOperations = [
  operation('GET /apps/{app}/retention', {
    does: 'How long things are kept, and how much is held.',
    right: 'read',
    run: ({ services, app }) => loadRetention(services, app),
  }),
  operation('PUT /apps/{app}/retention', {
    does: 'Changes how long things are kept.',
    right: 'owner',
    body: retentionSchema,
    status: 202,
    run: async ({ services, app, by, body }) => {
      await setRetention(services, app, body, by);
      return body;
    },
  }),
  operation('POST /apps/{app}/retention/preview', {
    does: 'What would go at once under a retention; nothing is changed.',
    right: 'read',
    body: retentionSchema,
    run: ({ services, app, body, now }) => previewRetention(services, app, body, now),
  }),
  operation('GET /apps/{app}/scrub-rules', {
    does: 'What is taken out of texts before they are stored.',
    right: 'read',
    run: ({ services, app }) => readScrubRules(services.database, app.id),
  }),
  operation('PUT /apps/{app}/scrub-rules', {
    does: 'Changes what is taken out of texts, from the next request on.',
    right: 'change',
    body: scrubRulesSchema,
    run: async ({ services, app, by, body }) => {
      await changeAppSetting(services.database, { appId: app.id, setting: 'scrub-rules', value: body, by });
      return body;
    },
  }),
  operation('POST /apps/{app}/scrub-preview', {
    does: 'What rules would leave of a text; nothing is kept.',
    right: 'read',
    body: z.object({ rules: scrubRulesSchema, sample: z.string().max(20_000) }),
    run: ({ services, body: { rules, sample } }) => services.workers.run('previewScrub', rules, sample),
  }),
  operation('POST /apps/{app}/scrub-trial', {
    does: 'What rules would take out of the newest reports of the app; nothing is changed.',
    right: 'read',
    body: scrubRulesSchema,
    run: ({ services, app, body }) => services.workers.run('tryScrub', app.id, body),
  }),
  operation('DELETE /apps/{app}/cases/{ref}', {
    does: 'Deletes a case with its reports and its history for good; later reports of its cause make a new one.',
    right: 'change',
    status: 202,
    run: ({ services, app, path }) => deleteWholeCase(services, app, path.ref),
  }),
  operation('DELETE /apps/{app}/reports/{id}', {
    does: 'Deletes one report for good, with its attachments.',
    right: 'change',
    run: async ({ services, app, path }) => {
      await deleteOneReport(services, app, path.id);
      return {};
    },
  }),
  operation('DELETE /apps/{app}/person', {
    does: 'Forgets everything of somebody.',
    right: 'owner',
    parameters: personSchema,
    run: ({ services, app, parameters }) => forgetPerson(services, app, parameters.id),
  }),
  operation('DELETE /apps/{app}', {
    does: 'Deletes the app with everything it holds for good.',
    right: 'owner',
    body: appDeletionSchema,
    status: 202,
    run: async ({ services, app, body }) => {
      await deleteWholeApp(services, app, body);
      return {};
    },
  }),
] as const;
