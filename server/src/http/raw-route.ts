import type { IncomingMessage, ServerResponse } from 'node:http';
import type { z } from 'zod';
import type { Readiness } from '../health/readiness.ts';
import type { ItemOutcome } from '../intake/take.ts';
import type { Services } from '../services.ts';
import type { TakenLines } from '../transfer/transfer.ts';

/** What the raw routes answer when all is well, for the documentation. */
export interface RawAnswers {
  'POST /intake/v1/batch': IntakeAnswer;
  'POST /intake/v1/file': IntakeAnswer;
  'POST /api/v1/apps/{app}/import': { readonly what: string; readonly reportId: string | null; readonly items: readonly ItemOutcome[] };
  'POST /api/v1/apps/{app}/symbol-files': UploadedFile;
  'PATCH /api/v1/apps/{app}/symbol-uploads/{upload}': UploadedFile;
  'POST /trackers/{app}/told': { readonly tickets: number };
  'POST /unsubscribe/{token}': { readonly stopped: boolean };
  'POST /api/v1/apps/{app}/transfer/{part}': TakenLines;
  'GET /healthz': { readonly status: 'ok' };
  'GET /readyz': Readiness;
}

/** What became of each line that was sent. */
export interface IntakeAnswer {
  readonly items: readonly (Pick<ItemOutcome, 'line' | 'id' | 'outcome'> & Partial<Pick<ItemOutcome, 'reason' | 'remarks'>>)[];
}

/** A symbol file that was taken, or that was there. */
export interface UploadedFile {
  readonly id: number;
  readonly state: string;
  readonly version: string;
  readonly build: string;
  readonly isNew: boolean;
}

/** What the documentation tells of a raw route. */
export interface RawDescription {
  readonly does: string;
  readonly takes: keyof typeof rawRights;
  readonly parameters?: z.ZodObject;
  /** Media types of the body. */
  readonly consumes?: readonly string[];
  /** Media type of an answer that is no JSON. */
  readonly produces?: string;
  /** Form of one JSON body, where it is JSON and described here. */
  readonly body?: () => object;
  readonly status: number;
}

export const rawRights = {
  nothing: 'Takes neither key nor token.',
  signature: 'Takes a signature with the secret that the app and its tracker share.',
  operator: 'Is answered on the machine of the server, or takes the token that its operator set.',
  key: 'Takes an intake key.',
  change: 'Takes a token of the app that may change, or the sign-in of a developer.',
  upload: 'Takes an upload token of the app, or the sign-in of a developer.',
} as const;

/** A route whose bytes are heavy or many: it is served before the pages, straight from the request. */
export interface RawRoute {
  readonly key: string;
  readonly method: string;
  readonly path: RegExp;
  readonly description: RawDescription | null;
  handle(services: Services, request: IncomingMessage, response: ServerResponse, match: RegExpExecArray): Promise<void>;
}

const pathParts: Readonly<Record<string, string>> = {
  '{app}': '([\\w-]{1,60})',
  '{upload}': '([0-9a-f]{32})',
  '{version}': '([\\w.-]{1,60})',
  '{file}': '([\\w.-]{1,100})',
  '{token}': '([\\w-]{1,400})',
  '{part}': '([\\w-]{1,40})',
};

/** A raw route by its method and path; `{app}` and `{upload}` are the groups of the match. */
export function rawRoute(key: string, description: RawDescription | null, handle: RawRoute['handle']): RawRoute {
  const [method, path] = key.split(' ') as [string, string];
  const pattern = path.replace(/\./g, '\\.').replace(/\{\w+\}/g, (name) => pathParts[name] as string);
  return { key, method, path: new RegExp(`^${pattern}$`), description, handle };
}

export function sendJson(response: ServerResponse, status: number, body: unknown): void {
  response.writeHead(status, { 'content-type': 'application/json; charset=utf-8', 'cache-control': 'no-store' });
  response.end(JSON.stringify(body));
}

export const parametersOf = (request: IncomingMessage): Record<string, string> =>
  Object.fromEntries(new URL(request.url ?? '/', 'http://server').searchParams);
