import type { IncomingMessage, ServerResponse } from 'node:http';
import { defaultKeyRules } from '@rough-ember/core/report/key-rules';
import { readScrubRules } from '@rough-ember/store/apps';
import { authoriseUpload } from '../accounts/authorise-upload.ts';
import { ApiError } from '../errors.ts';
import { receiveFile } from '../intake/receive.ts';
import type { Services } from '../services.ts';
import { IntakeLogger, intakeRoutes } from './intake-routes.ts';
import { parametersOf, type RawRoute, sendJson } from './raw-route.ts';
import { readBody } from './read-body.ts';
import { symbolUploadRoutes } from './symbol-upload-routes.ts';

export const rawRoutes: readonly RawRoute[] = [
  ...intakeRoutes,
  { method: 'GET', path: /^\/healthz$/, handle: health },
  ...symbolUploadRoutes,
  { method: 'POST', path: /^\/api\/v1\/apps\/([\w-]{1,60})\/import$/, handle: importCrashFile },
];

/** Takes a crash file that a developer hands over in a page, or a script with a token. */
async function importCrashFile(
  services: Services,
  request: IncomingMessage,
  response: ServerResponse,
  match: RegExpExecArray,
): Promise<void> {
  const { app, uploadedBy } = await authoriseUpload(services, request, match[1] as string);
  const logger = new IntakeLogger(services, request.headers['user-agent'] ?? null);
  const by = { appId: app.id, keyId: null, keyName: uploadedBy };
  const parameters = parametersOf(request);
  try {
    const scrub = await readScrubRules(services.database, app.id);
    const body = await readBody(request, services.settings.batchLimitBytes);
    const received = await receiveFile(services, { appId: app.id, keyId: null, rules: defaultKeyRules, scrub }, { body, parameters });
    await logger.received(by, received);
    const { items, what, reportId } = received;
    sendJson(response, 202, { what, reportId, items });
  } catch (error) {
    if (error instanceof ApiError) await logger.refusal({ ...by, what: `import of ${parameters.name ?? 'a crash file'}` }, error);
    throw error;
  }
}

async function health(services: Services, _request: IncomingMessage, response: ServerResponse): Promise<void> {
  try {
    await services.database.raw('SELECT 1');
    sendJson(response, 200, { status: 'ok' });
  } catch {
    throw new ApiError('unavailable', 'The database does not answer.');
  }
}
