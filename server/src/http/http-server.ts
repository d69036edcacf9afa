import { randomUUID } from 'node:crypto';
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo, BlockList } from 'node:net';
import compression from 'compression';
import sirv from 'sirv';
import { ApiError } from '../errors.ts';
import { longRequestMs } from '../metrics/metrics.ts';
import type { Services } from '../services.ts';
import { toApiError } from '../to-api-error.ts';
import { problemPage, problemPageHeaders } from './problem-page.ts';
import { sendJson } from './raw-route.ts';
import { rawRoutes } from './raw-routes.ts';
import { remoteAddress, trustedProxies } from './remote-address.ts';

/** Where a request comes from, and its number in the log. */
export interface RequestOrigin {
  readonly requestId: string;
  readonly remoteAddress: string;
}

/** Answers whatever no raw route and no built asset does: the pages and the API. */
export type PageHandler = (
  request: IncomingMessage,
  response: ServerResponse,
  next: (error?: unknown) => void,
  origin: RequestOrigin,
) => void | Promise<void>;

export interface HttpServer {
  readonly port: number;
  /** Answers what was begun, takes no new requests, and closes. */
  close(): Promise<void>;
}

const drainMs = 10_000;

const isEventStream = (response: ServerResponse): boolean => String(response.getHeader('content-type')).startsWith('text/event-stream');

/** Serves raw routes, built assets and pages, in that order. `pages` and `assetsFolder` may be left out by tests. */
export async function startHttpServer(
  services: Services,
  { pages, assetsFolder }: { pages?: PageHandler; assetsFolder?: string } = {},
): Promise<HttpServer> {
  const compress = compression({
    filter: (request, response) => !isEventStream(response as never) && compression.filter(request, response),
  });
  // Looked up for each request: a newer build may take the place of the one that was there at the start.
  const assets = assetsFolder === undefined ? null : sirv(assetsFolder, { dev: true, etag: true, setHeaders: cacheHashedAssets });
  const trusted = trustedProxies(services.settings.trustedProxies);
  let draining = false;
  const unanswered = new Set<ServerResponse>();

  const server = createServer((request, response) => {
    const requestId = randomUUID();
    response.setHeader('x-request-id', requestId);
    response.setHeader('x-content-type-options', 'nosniff');
    response.setHeader('referrer-policy', 'same-origin');
    if (draining) response.setHeader('connection', 'close');
    unanswered.add(response);
    const began = performance.now();
    response.once('close', () => {
      unanswered.delete(response);
      if (!isEventStream(response)) noteRequest(services, request, response, { requestId, ms: performance.now() - began });
    });
    compress(request as never, response as never, () => {
      answer(services, request, response, { pages, assets, requestId, trusted }).catch((error: unknown) =>
        answerError(services, request, response, { error, requestId }),
      );
    });
  });
  server.requestTimeout = 0; // uploads may take long; the headers still have to come soon
  server.headersTimeout = 20_000;
  server.timeout = 120_000; // of silence; event streams send a sign of life
  await listen(server, services.settings);

  return {
    port: (server.address() as AddressInfo).port,
    close: async () => {
      draining = true;
      const closed = new Promise<void>((resolve) => server.close(() => resolve()));
      server.closeIdleConnections();
      // They never end by themselves; whoever listens asks again soon.
      for (const response of unanswered) if (isEventStream(response)) response.destroy();
      const timer = setTimeout(() => server.closeAllConnections(), drainMs);
      await closed;
      clearTimeout(timer);
    },
  };
}

/** Counts a request that is over, and tells of one that took long; sending and fetching of files take as long as networks do. */
function noteRequest(
  { metrics, log }: Pick<Services, 'metrics' | 'log'>,
  request: IncomingMessage,
  response: ServerResponse,
  { requestId, ms }: { requestId: string; ms: number },
): void {
  const path = (request.url ?? '/').split('?', 1)[0] as string;
  const method = request.method ?? '';
  const raw = rawRoutes.find((route) => route.method === method && route.path.test(path));
  const route = raw?.key.split(' ')[1] ?? (path.startsWith('/api/') ? 'api' : path.startsWith('/_astro/') ? 'asset' : 'page');
  metrics.noteRequest(route, method.slice(0, 10), response.statusCode, ms);
  if (raw === undefined && ms > longRequestMs)
    log.warn(
      { requestId, method, url: request.url?.slice(0, 500), status: response.statusCode, ms: Math.round(ms) },
      'a request took long',
    );
}

function listen(server: Server, { host, port }: { host: string; port: number }): Promise<void> {
  return new Promise((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, host, () => {
      server.off('error', reject);
      resolve();
    });
  });
}

const cacheHashedAssets = (response: ServerResponse, path: string): void => {
  response.setHeader('cache-control', path.startsWith('/_astro/') ? 'public, max-age=31536000, immutable' : 'no-cache');
};

async function answer(
  services: Services,
  request: IncomingMessage,
  response: ServerResponse,
  parts: { pages: PageHandler | undefined; assets: ReturnType<typeof sirv> | null; requestId: string; trusted: BlockList },
): Promise<void> {
  // "//host/path" would be read as another host wherever the address is resolved.
  request.url = (request.url ?? '/').replace(/^\/{2,}/, '/');
  const path = request.url.split('?', 1)[0] as string;
  for (const route of rawRoutes) {
    const match = route.method === request.method ? route.path.exec(path) : null;
    if (match) return route.handle(services, request, response, match);
  }
  const known = rawRoutes.find((route) => route.path.test(path));
  if (known && /^\/(?:intake\/|v1\/)/.test(path))
    throw new ApiError('wrong-method', `${request.method} is not answered here; this address takes ${known.method}.`);
  // The framework's own, which renders pictures of any size for anybody; no page of ours asks it.
  if (path.startsWith('/_image')) throw new ApiError('not-found', 'There is nothing at this address.');
  const { pages, assets, requestId } = parts;
  const askPages = () => {
    if (!pages)
      return answerError(services, request, response, { error: new ApiError('not-found', 'There is nothing at this address.'), requestId });
    const origin = { requestId, remoteAddress: remoteAddress(request, parts.trusted) };
    // The handler gives back what no route matches; the page that says so is a route of its own.
    const notFound = () => {
      request.url = '/404';
      void pages(request, response, () => response.writeHead(404).end(), origin);
    };
    // A page that comes after somebody was told that it does not has nowhere to go.
    response.on('error', () => {});
    services.health
      .guard(
        Promise.race([
          Promise.resolve(pages(request, response, notFound, origin)),
          new Promise<void>((resolve) => response.once('close', resolve)),
        ]),
        () => response.headersSent,
      )
      .catch((error: unknown) => answerError(services, request, response, { error, requestId }));
  };
  if (assets && (request.method === 'GET' || request.method === 'HEAD')) assets(request, response, askPages);
  else askPages();
}

function answerError(
  services: Services,
  request: IncomingMessage,
  response: ServerResponse,
  { error, requestId }: { error: unknown; requestId: string },
): void {
  const known = toApiError(error);
  if (known.code === 'internal') services.log.error({ err: error, requestId, url: request.url }, 'a request failed');
  if (response.headersSent) {
    response.destroy();
    return;
  }
  // The rest of a refused body is read and dropped, so that the sender gets to see the answer.
  request.unpipe();
  request.resume();
  response.setHeader('connection', 'close');
  if (known.status === 503) response.setHeader('retry-after', '5');
  if (request.headers.accept?.includes('text/html') && !request.url?.startsWith('/api/'))
    response.writeHead(known.status, problemPageHeaders).end(problemPage(known));
  else sendJson(response, known.status, known);
}
