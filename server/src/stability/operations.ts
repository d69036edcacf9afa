import { operation } from '../operation/operation.ts';
import { scoped } from '../operation/scope-parameters.ts';
import { loadRequests, loadScreens } from './app-activity.ts';
import { compareSides, loadCrashFree, loadMatrix, matrixSchema, sidesSchema, stabilityParametersSchema } from './crash-free.ts';
import { loadPeopleOverTime } from './people-over-time.ts';
import { loadSession, loadSessions, loadTimeToCrash, sessionsSchema } from './sessions.ts';
import { loadStabilitySettings, saveStabilitySettings, stabilitySettingsSchema } from './settings.ts';

const stability = stabilityParametersSchema.shape;

/** How stable an app is: its sessions, and whoever was in them. */
export const stabilityOperations = [
  operation('GET /apps/{app}/crash-free', {
    does: 'Crash-free sessions and users of a scope: in all, by version, and day by day.',
    right: 'read',
    parameters: scoped(stability),
    run: ({ services, app, parameters, now }) => loadCrashFree(services, { app, ...parameters, now }),
  }),
  operation('GET /apps/{app}/crash-free/matrix', {
    does: 'Sessions and persons by the values of two fields.',
    right: 'read',
    parameters: scoped({ ...stability, ...matrixSchema.shape }),
    run: ({ services, app, parameters: { down, across, ...query }, now }) => loadMatrix(services, { app, ...query, now }, down, across),
  }),
  operation('GET /apps/{app}/crash-free/compare', {
    does: 'Compares two values of a field, and tells which cases make the difference.',
    right: 'read',
    parameters: scoped({ ...stability, ...sidesSchema.shape }),
    run: ({ services, app, parameters: { by, left, right, ...query }, now }) =>
      compareSides(services, { app, ...query, now }, by, [left ?? null, right]),
  }),
  operation('GET /apps/{app}/crash-free/time-to-crash', {
    does: 'How far into a session it crashes: quartiles over the newest sessions of the scope that did.',
    right: 'read',
    parameters: scoped({}),
    run: ({ services, app, parameters, now }) => loadTimeToCrash(services, { app, ...parameters, now }),
  }),
  operation('GET /apps/{app}/screens', {
    does: 'The screens of the app in a scope: how much each is used, and what goes wrong on it.',
    right: 'read',
    parameters: scoped(stability),
    run: ({ services, app, parameters, now }) => loadScreens(services, { app, ...parameters, now }),
  }),
  operation('GET /apps/{app}/requests', {
    does: 'The requests of the app in a scope: how many fail, how long they take, and the cases that follow a failure.',
    right: 'read',
    parameters: scoped(stability),
    run: ({ services, app, parameters, now }) => loadRequests(services, { app, ...parameters, now }),
  }),
  operation('GET /apps/{app}/people-over-time', {
    does: 'How the people of a scope begin, stay and come back, by week and by the version they began with, and which versions they have.',
    right: 'read',
    parameters: scoped({}),
    run: ({ services, app, parameters, now }) => loadPeopleOverTime(services, { app, ...parameters, now }),
  }),
  operation('GET /apps/{app}/sessions', {
    does: 'The newest sessions of a scope, or those that went a certain way.',
    right: 'read',
    parameters: scoped(sessionsSchema.shape),
    run: ({ services, app, parameters, now }) => loadSessions(services, { app, ...parameters, now }),
  }),
  operation('GET /apps/{app}/sessions/{id}', {
    does: 'One session with what happened in it, in order.',
    right: 'read',
    run: ({ services, app, path, now }) => loadSession(services, app, path.id, now),
  }),
  operation('GET /apps/{app}/stability-settings', {
    does: 'The target, and what a rollout must fulfil.',
    right: 'read',
    run: ({ services, app }) => loadStabilitySettings(services, app),
  }),
  operation('PUT /apps/{app}/stability-settings', {
    does: 'Changes the target and the conditions.',
    right: 'change',
    body: stabilitySettingsSchema,
    run: async ({ services, app, by, body }) => {
      await saveStabilitySettings(services, app, body, by);
      return body;
    },
  }),
] as const;
