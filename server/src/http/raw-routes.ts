import type { IncomingMessage, ServerResponse } from 'node:http';
import { defaultKeyRules } from '@rough-ember/core/report/key-rules';
import { readScrubRules } from '@rough-ember/store/apps';
import { authoriseUpload } from '../accounts/authorise-upload.ts';
import { ApiError } from '../errors.ts';
import { readiness } from '../health/readiness.ts';
import { fileParametersSchema } from '../intake/read-crash-file.ts';
import { receiveFile } from '../intake/receive.ts';
import type { Services } from '../services.ts';
import { downloadRoutes } from './download-routes.ts';
import { IntakeLogger, intakeRoutes } from './intake-routes.ts';
import { LargePlace } from './large-bodies.ts';
import { metricsRoute } from './metrics-route.ts';
import { parametersOf, type RawRoute, rawRoute, sendJson } from './raw-route.ts';
import { readBody } from './read-body.ts';
import { symbolUploadRoutes } from './symbol-upload-routes.ts';
import { trackerRoute } from './tracker-route.ts';
import { transferRoute } from './transfer-route.ts';
import { unsubscribeRoutes } from './unsubscribe-routes.ts';

export const rawRoutes: readonly RawRoute[] = [
  ...intakeRoutes,
  rawRoute('GET /healthz', { does: 'Whether the process lives and serves.', takes: 'nothing', status: 200 }, lives),
  rawRoute('GET /readyz', { does: 'Whether it can take and answer; 503 when it cannot.', takes: 'nothing', status: 200 }, isReady),
  metricsRoute,
  ...symbolUploadRoutes,
  ...downloadRoutes,
  trackerRoute,
  transferRoute,
  ...unsubscribeRoutes,
  rawRoute(
    'POST /api/v1/apps/{app}/import',
    {
      does: 'Takes a crash file that somebody hands over, as the system wrote it.',
      takes: 'upload',
      parameters: fileParametersSchema,
      consumes: ['application/octet-stream'],
      status: 202,
    },
    importCrashFile,
  ),
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
  const place = new LargePlace(services.largeBodies);
  try {
    const scrub = await readScrubRules(services.database, app.id);
    const body = await readBody(request, services.settings.batchLimitBytes, place);
    const received = await receiveFile(services, { appId: app.id, keyId: null, rules: defaultKeyRules, scrub }, { body, parameters });
    await logger.received(by, received);
    const { items, what, reportId } = received;
    sendJson(response, 202, { what, reportId, items });
  } catch (error) {
    if (error instanceof ApiError) await logger.refusal({ ...by, what: `import of ${parameters.name ?? 'a crash file'}` }, error);
    throw error;
  } finally {
    place.giveUp();
  }
}

/** The process lives and serves, whatever the database does: who finds it otherwise may restart it. */
async function lives(_services: Services, _request: IncomingMessage, response: ServerResponse): Promise<void> {
  sendJson(response, 200, { status: 'ok' });
}

/** It can take and answer: who finds it otherwise sends people elsewhere for a while. */
async function isReady(services: Services, _request: IncomingMessage, response: ServerResponse): Promise<void> {
  const found = await readiness(services);
  sendJson(response, found.status === 'ready' ? 200 : 503, found);
}
