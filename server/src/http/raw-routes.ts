import type { IncomingMessage, ServerResponse } from 'node:http';
import { defaultKeyRules } from '@rough-ember/core/report/key-rules';
import { type App, findApp, readScrubRules } from '@rough-ember/store/apps';
import { requireSameOrigin } from '../accounts/origin.ts';
import { requireRole, signedInAccount, signInCookie } from '../accounts/sign-in.ts';
import { requireUploadToken } from '../accounts/tokens.ts';
import { ApiError } from '../errors.ts';
import { receiveFile } from '../intake/receive.ts';
import type { Services } from '../services.ts';
import { receiveSymbolFile } from '../symbols/receive-symbol-file.ts';
import { IntakeLogger, intakeRoutes } from './intake-routes.ts';
import { parametersOf, type RawRoute, sendJson } from './raw-route.ts';
import { decodedBody, limitedChunks, readBody } from './read-body.ts';

export const rawRoutes: readonly RawRoute[] = [
  ...intakeRoutes,
  { method: 'GET', path: /^\/healthz$/, handle: health },
  { method: 'POST', path: /^\/api\/v1\/apps\/([\w-]{1,60})\/symbol-files$/, handle: uploadSymbolFile },
  { method: 'POST', path: /^\/api\/v1\/apps\/([\w-]{1,60})\/import$/, handle: importCrashFile },
];

/** Authorises, takes and logs one uploaded symbol file; a build server's owner sees on Intake why one was refused. */
async function uploadSymbolFile(
  services: Services,
  request: IncomingMessage,
  response: ServerResponse,
  match: RegExpExecArray,
): Promise<void> {
  const { app, uploadedBy } = await authoriseUpload(services, request, match[1] as string);
  const parameters = parametersOf(request);
  const logger = new IntakeLogger(services, request.headers['user-agent'] ?? null);
  const what = `upload of ${parameters.name ?? 'a symbol file'}, ${parameters.version ?? 'no version'}`;
  const by = { appId: app.id, keyId: null, keyName: uploadedBy };
  try {
    const chunks = limitedChunks(decodedBody(request), services.settings.symbolLimitBytes);
    const { file, isNew } = await receiveSymbolFile(services, { app, uploadedBy, chunks, parameters });
    const outcome = isNew ? 'accepted' : 'duplicate';
    await logger.received(by, { items: [{ line: 1, id: null, what, outcome, reason: null }], what, reportId: null });
    sendJson(response, isNew ? 202 : 200, { id: file.id, state: file.state, version: file.version, build: file.build, isNew });
  } catch (error) {
    if (error instanceof ApiError) await logger.refusal({ ...by, what }, error);
    throw error;
  }
}

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

/** The app, and who uploads: an upload token of it, or a signed-in developer in a page of this server. */
async function authoriseUpload(services: Services, request: IncomingMessage, slug: string): Promise<{ app: App; uploadedBy: string }> {
  const { database, publicUrl } = services;
  const { authorization, cookie, origin, host } = request.headers;
  const found = await findApp(database, slug);
  let uploadedBy: string;
  if (authorization !== undefined) uploadedBy = `token ${(await requireUploadToken(database, authorization, found)).name}`;
  else {
    const account = await signedInAccount(database, new RegExp(`(?:^|; )${signInCookie}=([^;]+)`).exec(cookie ?? '')?.[1]);
    if (!account) throw new ApiError('token-missing', 'The request has no upload token.');
    requireSameOrigin({ origin, host, publicUrl });
    requireRole(account, 'developer');
    uploadedBy = account.email;
  }
  if (!found) throw new ApiError('not-found', `There is no app "${slug}".`);
  return { app: found, uploadedBy };
}

async function health(services: Services, _request: IncomingMessage, response: ServerResponse): Promise<void> {
  try {
    await services.database.raw('SELECT 1');
    sendJson(response, 200, { status: 'ok' });
  } catch {
    throw new ApiError('unavailable', 'The database does not answer.');
  }
}
