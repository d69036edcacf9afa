import { createReadStream } from 'node:fs';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { join } from 'node:path';
import type { App } from '@rough-ember/store/apps';
import { findAppById } from '@rough-ember/store/apps';
import { FileStore } from '@tus/file-store';
import { Server } from '@tus/server';
import { authoriseUpload } from '../accounts/authorise-upload.ts';
import { ApiError } from '../errors.ts';
import type { Services } from '../services.ts';
import { receiveSymbolFile, symbolParametersSchema } from '../symbols/receive-symbol-file.ts';
import { toApiError } from '../to-api-error.ts';
import { IntakeLogger } from './intake-routes.ts';
import { parametersOf, type RawRoute, rawRoute, sendJson } from './raw-route.ts';
import { decodedBody, limitedChunks } from './read-body.ts';

/** Symbol files come in one request, or in parts that can be taken up again (tus 1.0.0, <https://tus.io/protocols/resumable-upload>). */
export const symbolUploadRoutes: readonly RawRoute[] = [
  rawRoute(
    'POST /api/v1/apps/{app}/symbol-files',
    {
      does: 'Takes a symbol file in one request; 200 when it was there already.',
      takes: 'upload',
      parameters: symbolParametersSchema,
      consumes: ['application/octet-stream'],
      status: 202,
    },
    uploadSymbolFile,
  ),
  rawRoute(
    'POST /api/v1/apps/{app}/symbol-uploads',
    { does: 'Begins an upload in parts (tus 1.0.0); the header "location" names it.', takes: 'upload', status: 201 },
    beginUpload,
  ),
  rawRoute(
    'HEAD /api/v1/apps/{app}/symbol-uploads/{upload}',
    { does: 'How many bytes of an upload have come.', takes: 'upload', status: 200 },
    continueUpload,
  ),
  rawRoute(
    'PATCH /api/v1/apps/{app}/symbol-uploads/{upload}',
    {
      does: 'Takes the next part of an upload; the last one is answered as a whole upload is.',
      takes: 'upload',
      consumes: ['application/offset+octet-stream'],
      status: 202,
    },
    continueUpload,
  ),
  rawRoute(
    'DELETE /api/v1/apps/{app}/symbol-uploads/{upload}',
    { does: 'Gives an upload up.', takes: 'upload', status: 204 },
    continueUpload,
  ),
];

/** What both ways of uploading have to know: for which app, by whom, and who asked. */
interface Upload {
  readonly app: App;
  readonly uploadedBy: string;
  readonly userAgent: string | null;
  readonly parameters: Readonly<Record<string, string>>;
  readonly chunks: AsyncIterable<Buffer>;
}

/** Takes and logs one uploaded symbol file; a build server's owner sees on Intake why one was refused. */
async function takeSymbolFile(
  services: Services,
  { app, uploadedBy, userAgent, parameters, chunks }: Upload,
): Promise<{ status: number; body: object }> {
  const logger = new IntakeLogger(services, userAgent);
  const what = `upload of ${parameters.name ?? 'a symbol file'}, ${parameters.version || 'no version'}`;
  const by = { appId: app.id, keyId: null, keyName: uploadedBy };
  try {
    const { file, isNew } = await receiveSymbolFile(services, { app, uploadedBy, chunks, parameters });
    const outcome = isNew ? 'accepted' : 'duplicate';
    await logger.received(by, { items: [{ line: 1, id: null, what, outcome, reason: null, remarks: [] }], what, reportId: null });
    return { status: isNew ? 202 : 200, body: { id: file.id, state: file.state, version: file.version, build: file.build, isNew } };
  } catch (error) {
    if (error instanceof ApiError) await logger.refusal({ ...by, what }, error);
    throw error;
  }
}

async function uploadSymbolFile(
  services: Services,
  request: IncomingMessage,
  response: ServerResponse,
  match: RegExpExecArray,
): Promise<void> {
  const { app, uploadedBy } = await authoriseUpload(services, request, match[1] as string);
  const chunks = limitedChunks(decodedBody(request), services.settings.symbolLimitBytes);
  const userAgent = request.headers['user-agent'] ?? null;
  const { status, body } = await takeSymbolFile(services, { app, uploadedBy, userAgent, parameters: parametersOf(request), chunks });
  sendJson(response, status, body);
}

async function beginUpload(services: Services, request: IncomingMessage, response: ServerResponse, match: RegExpExecArray): Promise<void> {
  const { app, uploadedBy } = await authoriseUpload(services, request, match[1] as string);
  const length = Number(request.headers['upload-length']);
  const { symbolLimitBytes } = services.settings;
  if (!Number.isSafeInteger(length) || length < 1)
    throw new ApiError('bad-request', 'The header "upload-length" must say how many bytes the file has.');
  if (length > symbolLimitBytes)
    throw new ApiError('too-large', `The file has ${length} bytes; the limit here is ${symbolLimitBytes}.`, {
      limitBytes: symbolLimitBytes,
    });
  owners.set(request, { app: String(app.id), by: uploadedBy });
  await protocolOf(services).handle(request, response);
}

/** Where an upload that begins belongs; that is the server's to say, and the sender's own words for it are not trusted. */
const owners = new WeakMap<object, { app: string; by: string }>();

async function continueUpload(
  services: Services,
  request: IncomingMessage,
  response: ServerResponse,
  match: RegExpExecArray,
): Promise<void> {
  const { app } = await authoriseUpload(services, request, match[1] as string);
  const upload = await storeOf(services)
    .getUpload(match[2] as string)
    .catch(() => null);
  if (upload?.metadata?.app !== String(app.id)) throw new ApiError('not-found', 'There is no upload of this number; begin it again.');
  await protocolOf(services).handle(request, response);
}

const stores = new WeakMap<Services, FileStore>();
const protocols = new WeakMap<Services, Server>();

/** Uploads that are under way lie where what broke off is swept away. */
function storeOf(services: Services): FileStore {
  const known = stores.get(services) ?? new FileStore({ directory: join(services.settings.dataFolder, 'symbols', 'incoming') });
  stores.set(services, known);
  return known;
}

function protocolOf(services: Services): Server {
  const known = protocols.get(services);
  if (known) return known;
  const datastore = storeOf(services);
  const server = new Server({
    path: '/api/v1/apps',
    // Pages of other servers have no business here.
    allowedOrigins: () => false,
    datastore,
    generateUrl: (request, { id }) => `${new URL(request.url).pathname}/${id}`,
    getFileIdFromRequest: (request) => /\/symbol-uploads\/([0-9a-f]{32})$/.exec(new URL(request.url).pathname)?.[1],
    async onUploadCreate(request, upload) {
      const { runtime } = request as { runtime?: { node?: { req: object } } };
      const owner = runtime?.node && owners.get(runtime.node.req);
      if (!owner) throw new Error('an upload begins without an owner');
      return { metadata: { ...upload.metadata, ...owner } };
    },
    async onUploadFinish(request, upload) {
      const { app: appId, by, ...parameters } = upload.metadata ?? {};
      const path = join(services.settings.dataFolder, 'symbols', 'incoming', upload.id);
      try {
        const app = await findAppById(services.database, Number(appId));
        if (!app) throw new ApiError('not-found', 'The app of this upload is gone.');
        const { status, body } = await takeSymbolFile(services, {
          app,
          uploadedBy: by ?? '',
          userAgent: request.headers.get('user-agent'),
          parameters: Object.fromEntries(Object.entries(parameters).map(([name, value]) => [name, value ?? ''])),
          chunks: createReadStream(path, { highWaterMark: 1 << 20 }),
        });
        return { status_code: status, headers: { 'content-type': 'application/json; charset=utf-8' }, body: JSON.stringify(body) };
      } catch (error) {
        const known = toApiError(error);
        if (known.code === 'internal') services.log.error({ err: error }, 'an upload could not be finished');
        throw { status_code: known.status, body: JSON.stringify(known) };
      } finally {
        await datastore.remove(upload.id).catch(() => {});
      }
    },
  });
  protocols.set(services, server);
  return server;
}
