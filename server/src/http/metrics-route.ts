import { createHash, timingSafeEqual } from 'node:crypto';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { ApiError } from '../errors.ts';
import type { Services } from '../services.ts';
import { rawRoute } from './raw-route.ts';

export const metricsRoute = rawRoute(
  'GET /metrics',
  {
    does: 'What this process counts and how it stands, as OpenMetrics text, for whoever watches the server.',
    takes: 'operator',
    produces: 'application/openmetrics-text',
    status: 200,
  },
  tellMetrics,
);

async function tellMetrics({ settings, metrics }: Services, request: IncomingMessage, response: ServerResponse): Promise<void> {
  if (!isOperator(request, settings.metricsToken))
    throw new ApiError('not-allowed', 'Metrics are told on this machine, and elsewhere to whoever has the token of EMBER_METRICS_TOKEN.');
  const text = await metrics.registry.metrics();
  response.writeHead(200, { 'content-type': metrics.registry.contentType, 'cache-control': 'no-store' });
  response.end(text);
}

const loopback = /^(?:::1|(?:::ffff:)?127\.\d+\.\d+\.\d+)$/;
/** What a proxy adds: a request that came through one is of somebody else, though the proxy is on this machine. */
const forwardedHeaders = ['forwarded', 'x-forwarded-for', 'x-forwarded-host', 'x-forwarded-proto', 'x-real-ip', 'via'];

/** Whether a request comes from this machine itself, or brings the token. */
function isOperator({ headers, socket }: IncomingMessage, token: string | undefined): boolean {
  const [, given] = /^Bearer (\S+)$/i.exec(headers.authorization ?? '') ?? [];
  if (token !== undefined && given !== undefined) return isSame(given, token);
  return token === undefined && loopback.test(socket.remoteAddress ?? '') && forwardedHeaders.every((name) => headers[name] === undefined);
}

/** In a time that does not tell how much of it is right. */
function isSame(one: string, other: string): boolean {
  const hashOf = (text: string) => createHash('sha256').update(text).digest();
  return timingSafeEqual(hashOf(one), hashOf(other));
}
