import { type FirstQuestion, firstLookSchema } from '@rough-ember/core/first-look/first-look';
import { readFirstLook } from '@rough-ember/store/apps';
import { noteLook } from '@rough-ember/store/looks';
import { z } from 'zod';
import { operation } from '../operation/operation.ts';
import { changeStream, mayStillLook } from './change-stream.ts';
import { loadFirstHour } from './first-hour.ts';
import { loadNow } from './load-now.ts';

/** What is new of an app. */
export const nowOperations = [
  operation('GET /apps/{app}/now', {
    does: 'What changed since a moment: versions, cases, symbol files and intake.',
    right: 'read',
    parameters: z.object({ since: z.iso.datetime({ offset: true }).optional() }),
    run: ({ services, app, parameters: { since }, now }) =>
      loadNow(services, app, { since: since === undefined ? null : new Date(since), now }),
  }),
  operation('POST /apps/{app}/looks', {
    does: 'Notes that whoever asks looks at the app, and gives when they looked before; within half an hour it is the same look.',
    right: 'person',
    run: async ({ services, app, account, now }) => {
      const since = await noteLook(services.database, { accountId: account.id, appId: app.id, now });
      return { since: since?.toISOString() ?? null };
    },
  }),
  operation('GET /apps/{app}/first-look', {
    does: 'Questions that the screens of the app answer, to find one’s way by; most apps have none.',
    right: 'read',
    run: async ({ services, app }): Promise<FirstQuestion[]> => {
      const read = firstLookSchema.safeParse(await readFirstLook(services.database, app.id));
      return read.success ? read.data : [];
    },
  }),
  operation('GET /apps/{app}/first-hour', {
    does: 'What is worth doing next with a new app: symbol files, sessions, rollouts, a target, who is told, and people.',
    right: 'read',
    run: ({ services, app }) => loadFirstHour(services, app),
  }),
  operation('GET /apps/{app}/changes', {
    does: 'A stream of events, one for each change of the app from now on.',
    right: 'read',
    produces: 'text/event-stream',
    run: ({ services, app, account, connection }) =>
      changeStream(services, app.id, () => mayStillLook(services, { connection, isPerson: account !== null, appId: app.id })),
  }),
] as const;
