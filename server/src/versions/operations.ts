import { flagChangeSchema, rolloutSchema } from '@rough-ember/core/rollouts/rollouts';
import { listFlagChanges, listRolloutSteps } from '@rough-ember/store/rollouts';
import { operation, rowNumber } from '../operation/operation.ts';
import { baselineSchema } from '../stability/compare-version.ts';
import { loadRolloutCheck, loadVersionList } from './load-versions.ts';
import { recordFlagChange, recordRollout, removeRecord } from './record-changes.ts';

/** Versions, and what people were given when. */
export const versionOperations = [
  operation('GET /apps/{app}/versions', {
    does: 'Every version: its rollout, its figures, and what it changed.',
    right: 'read',
    run: ({ services, app, now }) => loadVersionList(services, app, now),
  }),
  operation('GET /apps/{app}/versions/{version}/check', {
    does: 'Whether a version may go to more people, with the reasons.',
    right: 'read',
    parameters: baselineSchema,
    run: ({ services, app, path, parameters, now }) => loadRolloutCheck(services, app, { version: path.version, now, ...parameters }),
  }),
  operation('GET /apps/{app}/rollouts', {
    does: 'The steps of rollouts that were recorded.',
    right: 'read',
    run: ({ services, app }) => listRolloutSteps(services.database, app.id),
  }),
  operation('POST /apps/{app}/rollouts', {
    does: 'Records that a version was given to a share of people, halted or resumed.',
    right: 'change',
    body: rolloutSchema,
    status: 201,
    run: ({ services, app, by, body }) => recordRollout(services, app, { ...body, by }),
  }),
  operation('DELETE /apps/{app}/rollouts/{id}', {
    does: 'Takes back a step that was recorded by mistake.',
    right: 'change',
    run: async ({ services, app, path }) => {
      await removeRecord(services, app, 'rollout', rowNumber(path.id));
      return { removed: true };
    },
  }),
  operation('GET /apps/{app}/flag-changes', {
    does: 'The changes of flags that were recorded.',
    right: 'read',
    run: ({ services, app }) => listFlagChanges(services.database, app.id),
  }),
  operation('POST /apps/{app}/flag-changes', {
    does: 'Records that a flag was changed.',
    right: 'change',
    body: flagChangeSchema,
    status: 201,
    run: ({ services, app, by, body }) => recordFlagChange(services, app, { ...body, by }),
  }),
  operation('DELETE /apps/{app}/flag-changes/{id}', {
    does: 'Takes back a change that was recorded by mistake.',
    right: 'change',
    run: async ({ services, app, path }) => {
      await removeRecord(services, app, 'flag', rowNumber(path.id));
      return { removed: true };
    },
  }),
] as const;
