import { operation } from '../operation/operation.ts';
import { changeForward, dropForward, givenForwardSchema, loadForward } from './forward-settings.ts';

/** Reports and sessions on their way to a receiver of the team's own. */
export const forwardOperations = [
  operation('GET /apps/{app}/forward', {
    does: 'Where reports and sessions of the app are forwarded to by OTLP, and how that goes.',
    right: 'read',
    run: ({ services, app, role }) => loadForward(services, app, role),
  }),
  operation('PUT /apps/{app}/forward', {
    does: 'Forwards reports and sessions that come from now on to a receiver of OTLP.',
    right: 'developer',
    body: givenForwardSchema,
    run: async ({ services, app, body, by, role }) => {
      await changeForward(services, app, body, { by, role });
      return loadForward(services, app, role);
    },
  }),
  operation('DELETE /apps/{app}/forward', {
    does: 'Forwards no more, and forgets what waits for it.',
    right: 'developer',
    run: async ({ services, app }) => {
      await dropForward(services, app);
      return { dropped: true };
    },
  }),
] as const;
