import type { IncomingMessage, ServerResponse } from 'node:http';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { ReadableStream } from 'node:stream/web';
import { ApiError } from '../errors.ts';
import { answerApi, assistantPath } from './router.ts';
import type { Visit } from './visit.ts';

/** The API without any page, for tests and for development, where another process makes the pages. */
export async function answerApiAlone(
  request: IncomingMessage,
  response: ServerResponse,
  visitOf: (request: Request) => Visit,
): Promise<void> {
  if (!request.url?.startsWith('/api/') && request.url !== assistantPath)
    throw new ApiError('not-found', 'There is nothing at this address.');
  const asked = toRequest(request);
  const answer = await answerApi(visitOf(asked), asked);
  answer.headers.forEach((value, name) => {
    if (name !== 'set-cookie') response.setHeader(name, value);
  });
  const cookies = answer.headers.getSetCookie();
  if (cookies.length > 0) response.setHeader('set-cookie', cookies);
  response.writeHead(answer.status);
  if (!answer.body) response.end();
  else await pipeline(Readable.fromWeb(answer.body as ReadableStream), response).catch(() => response.destroy());
}

function toRequest(request: IncomingMessage): Request {
  const { method = 'GET', url = '/', headers } = request;
  const withBody = !['GET', 'HEAD'].includes(method);
  return new Request(`http://${headers.host ?? 'server'}${url}`, {
    method,
    headers: Object.entries(headers).flatMap(([name, value]): [string, string][] =>
      Array.isArray(value) ? value.map((one) => [name, one]) : value === undefined ? [] : [[name, value]],
    ),
    ...(withBody && { body: Readable.toWeb(request) as unknown as ReadableStream & Request['body'], duplex: 'half' }),
  });
}
