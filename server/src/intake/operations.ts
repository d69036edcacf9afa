import { changeIntakeKey, revokeIntakeKey, revokeToken } from '@rough-ember/store/credentials';
import { issueIntakeKey, issueToken } from '../accounts/issue-credentials.ts';
import { ApiError } from '../errors.ts';
import { operation, rowNumber } from '../operation/operation.ts';
import {
  intakeQuerySchema,
  keyChangeSchema,
  loadIntakeOverview,
  newKeySchema,
  newTokenSchema,
  retryReports,
  retrySchema,
} from './intake-overview.ts';

/** What comes in, and what it takes to send. */
export const intakeOperations = [
  operation('GET /apps/{app}/intake', {
    does: 'What came in, what was refused and why, and the keys and tokens of the app.',
    right: 'read',
    parameters: intakeQuerySchema,
    run: ({ services, app, role, parameters, now }) => loadIntakeOverview(services.database, { app, role, now, query: parameters }),
  }),
  operation('POST /apps/{app}/intake-keys', {
    does: 'Makes an intake key.',
    right: 'developer',
    body: newKeySchema,
    status: 201,
    run: async ({ services, app, body: { name } }) => ({ key: await issueIntakeKey(services.database, { appId: app.id, name }) }),
  }),
  operation('PUT /apps/{app}/intake-keys/{id}', {
    does: 'Changes the name of a key, and what it takes.',
    right: 'developer',
    body: keyChangeSchema,
    run: async ({ services, app, path, body }) => {
      const changed = await changeIntakeKey(services.database, { appId: app.id, id: rowNumber(path.id), ...body });
      if (!changed) throw new ApiError('not-found', 'There is no such key in use.');
      services.changes.note(app.id);
      return { changed };
    },
  }),
  operation('DELETE /apps/{app}/intake-keys/{id}', {
    does: 'Revokes a key: apps that ship with it are refused from now on.',
    right: 'developer',
    run: async ({ services, app, path }) => {
      const revoked = await revokeIntakeKey(services.database, app.id, rowNumber(path.id));
      if (!revoked) throw new ApiError('not-found', 'There is no such key in use.');
      return { revoked };
    },
  }),
  operation('POST /apps/{app}/tokens', {
    does: 'Makes a token; the answer is the only place where it is ever shown.',
    right: 'developer',
    body: newTokenSchema,
    status: 201,
    run: async ({ services, app, account, body }) => ({
      token: await issueToken(services.database, { appId: app.id, ...body, madeBy: account.email }),
    }),
  }),
  operation('DELETE /apps/{app}/tokens/{id}', {
    does: 'Revokes a token.',
    right: 'developer',
    run: async ({ services, app, path }) => {
      const revoked = await revokeToken(services.database, app.id, rowNumber(path.id));
      if (!revoked) throw new ApiError('not-found', 'There is no such token in use.');
      return { revoked };
    },
  }),
  operation('POST /apps/{app}/retries', {
    does: 'Sends reports round again that could not be processed: one, those of one reason, or all.',
    right: 'change',
    body: retrySchema,
    status: 202,
    run: ({ services, app, body }) => retryReports(services, app, body),
  }),
] as const;
