import type { IncomingMessage, ServerResponse } from 'node:http';
import type { Services } from '../services.ts';

/** A route whose bytes are heavy or many: it is served before the pages, straight from the request. */
export interface RawRoute {
  readonly method: string;
  readonly path: RegExp;
  handle(services: Services, request: IncomingMessage, response: ServerResponse, match: RegExpExecArray): Promise<void>;
}

export function sendJson(response: ServerResponse, status: number, body: unknown): void {
  response.writeHead(status, { 'content-type': 'application/json; charset=utf-8', 'cache-control': 'no-store' });
  response.end(JSON.stringify(body));
}

export const parametersOf = (request: IncomingMessage): Record<string, string> =>
  Object.fromEntries(new URL(request.url ?? '/', 'http://server').searchParams);
