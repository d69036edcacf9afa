import type { IncomingMessage, ServerResponse } from 'node:http';
import { type App, findApp } from '@rough-ember/store/apps';
import { writeIntakeLog } from '@rough-ember/store/intake-log';
import { z } from 'zod';
import { requireSameOrigin } from '../accounts/origin.ts';
import { requireRole, signedInAccount, signInCookie } from '../accounts/sign-in.ts';
import { requireUploadToken } from '../accounts/upload-token.ts';
import { ApiError } from '../errors.ts';
import { authoriseIntake } from '../intake/authorise-intake.ts';
import { batchItemSchema } from '../intake/parse-batch.ts';
import { type Received, receiveBatch, receiveFile } from '../intake/receive.ts';
import type { Services } from '../services.ts';
import { receiveSymbolFile } from '../symbols/receive-symbol-file.ts';
import { decodedBody, limitedChunks, readBody } from './read-body.ts';

/** A route whose bytes are heavy or many: it is served before the pages, straight from the request. */
interface RawRoute {
  readonly method: string;
  readonly path: RegExp;
  handle(services: Services, request: IncomingMessage, response: ServerResponse, match: RegExpExecArray): Promise<void>;
}

export const rawRoutes: readonly RawRoute[] = [
  {
    method: 'POST',
    path: /^\/intake\/v1\/batch$/,
    handle: (services, request, response) => intake(services, request, response, takeBatch),
  },
  { method: 'POST', path: /^\/intake\/v1\/file$/, handle: (services, request, response) => intake(services, request, response, takeFile) },
  {
    method: 'GET',
    path: /^\/intake\/v1\/schema\.json$/,
    handle: async (_services, _request, response) => sendJson(response, 200, intakeSchema),
  },
  { method: 'GET', path: /^\/healthz$/, handle: health },
  { method: 'POST', path: /^\/api\/v1\/apps\/([\w-]{1,60})\/symbol-files$/, handle: uploadSymbolFile },
];

const intakeSchema = z.toJSONSchema(batchItemSchema, { io: 'input', target: 'draft-2020-12' });

export function sendJson(response: ServerResponse, status: number, body: unknown): void {
  response.writeHead(status, { 'content-type': 'application/json; charset=utf-8', 'cache-control': 'no-store' });
  response.end(JSON.stringify(body));
}

const parametersOf = (request: IncomingMessage): Record<string, string> =>
  Object.fromEntries(new URL(request.url ?? '/', 'http://server').searchParams);

type Take = (services: Services, appId: number, request: IncomingMessage) => Promise<Received>;

const takeBatch: Take = async (services, appId, request) =>
  receiveBatch(services, appId, await readBody(request, services.settings.batchLimitBytes));

const takeFile: Take = async (services, appId, request) =>
  receiveFile(services, appId, { body: await readBody(request, services.settings.batchLimitBytes), parameters: parametersOf(request) });

/** Authorises, takes and logs one intake request; a refusal is logged like an acceptance. */
async function intake(services: Services, request: IncomingMessage, response: ServerResponse, take: Take): Promise<void> {
  const client = request.headers['user-agent'] ?? null;
  const what = request.url?.startsWith('/intake/v1/file') ? 'crash text' : 'batch';
  const log = async (appId: number | null, entry: Omit<Parameters<typeof writeIntakeLog>[1], 'appId' | 'client'>) => {
    await writeIntakeLog(services.database, { appId, client, ...entry });
    if (appId !== null) services.changes.note(appId);
  };
  const logRefusal = (appId: number | null, keyName: string | null, { status, message: reason }: ApiError) =>
    log(appId, { keyName, what, status, accepted: 0, duplicates: 0, refused: 1, reason });

  const authorised = await authoriseIntake(services.database, request.headers.authorization);
  if (!authorised.ok) {
    await logRefusal(authorised.appId, authorised.keyName, authorised.error);
    throw authorised.error;
  }
  const { appId, name: keyName } = authorised.key;
  let received: Received;
  try {
    received = await take(services, appId, request);
  } catch (error) {
    if (error instanceof ApiError) await logRefusal(appId, keyName, error);
    throw error;
  }
  const count = (outcome: string) => received.items.filter((item) => item.outcome === outcome).length;
  const reason = received.items.find((item) => item.outcome === 'refused')?.reason ?? null;
  const error = reason === null ? null : new ApiError('bad-body', reason, { items: received.items });
  const status = error?.status ?? 202;
  const counts = { accepted: count('accepted'), duplicates: count('duplicate'), refused: count('refused') };
  await log(appId, { keyName, what: received.what, status, ...counts, reason });
  sendJson(response, status, error ?? { items: received.items });
}

/** Authorises, takes and logs one uploaded symbol file; a build server's owner sees on Intake why one was refused. */
async function uploadSymbolFile(
  services: Services,
  request: IncomingMessage,
  response: ServerResponse,
  match: RegExpExecArray,
): Promise<void> {
  const { app, uploadedBy } = await authoriseUpload(services, request, match[1] as string);
  const parameters = parametersOf(request);
  const log = (status: number, counts: { accepted: number; duplicates: number; refused: number }, reason: string | null) =>
    writeIntakeLog(services.database, {
      appId: app.id,
      keyName: uploadedBy,
      client: request.headers['user-agent'] ?? null,
      what: `upload of ${parameters.name ?? 'a symbol file'}, ${parameters.version ?? 'no version'}`,
      status,
      ...counts,
      reason,
    });
  try {
    const chunks = limitedChunks(decodedBody(request), services.settings.symbolLimitBytes);
    const { file, isNew } = await receiveSymbolFile(services, { app, uploadedBy, chunks, parameters });
    const status = isNew ? 202 : 200;
    await log(status, { accepted: Number(isNew), duplicates: Number(!isNew), refused: 0 }, null);
    sendJson(response, status, { id: file.id, state: file.state, version: file.version, build: file.build, isNew });
  } catch (error) {
    if (error instanceof ApiError) {
      await log(error.status, { accepted: 0, duplicates: 0, refused: 1 }, error.message);
      services.changes.note(app.id);
    }
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
