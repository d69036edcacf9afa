import { z } from 'zod';
import { operation } from '../operation/operation.ts';
import { changeFollowing, loadFollowing } from './follow.ts';
import { loadTold, loadUnread, readSchema, readTold, toldQuerySchema } from './load-told.ts';

/** What people are told of. */
export const toldOperations = [
  operation('GET /account/told', {
    does: 'What happened to cases that concerns whoever asks: they were mentioned, were given it, take part, or follow. The newest first.',
    right: 'person',
    parameters: toldQuerySchema,
    run: ({ services, account, parameters, now }) => loadTold(services.database, { account, query: parameters, now }),
  }),
  operation('GET /account/told/unread', {
    does: 'How much of that was not read yet.',
    right: 'person',
    run: async ({ services, account }) => ({ unread: await loadUnread(services.database, account) }),
  }),
  operation('POST /account/told/read', {
    does: 'Marks some of it as read, or all up to one; the answer says how much is left.',
    right: 'person',
    body: readSchema,
    run: async ({ services, account, body, now }) => ({ unread: await readTold(services.database, account, body, now) }),
  }),
  operation('GET /apps/{app}/cases/{ref}/follow', {
    does: 'Whether whoever asks follows the case, and how many do.',
    right: 'read',
    run: ({ services, app, path, account }) => loadFollowing(services, app, path.ref, account),
  }),
  operation('PUT /apps/{app}/cases/{ref}/follow', {
    does: 'Has whoever asks hear of what happens to the case, or no more.',
    right: 'person',
    body: z.strictObject({ follows: z.boolean() }),
    run: ({ services, app, path, account, body }) => changeFollowing(services, app, { ref: path.ref, account, follows: body.follows }),
  }),
] as const;
