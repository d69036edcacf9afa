import { Readable } from 'node:stream';
import type { ReadableStream } from 'node:stream/web';
import { symbolicatedSchema } from '@rough-ember/core/symbolicate/symbolicated-json';
import { Hono } from 'hono';
import { z } from 'zod';
import { answerAssistant } from '../assistants/assistant-server.ts';
import { ApiError } from '../errors.ts';
import { readWhole } from '../http/read-body.ts';
import { madeOnce } from '../made-once.ts';
import type { Operation } from '../operation/operation.ts';
import { openApiDocument } from './openapi.ts';
import { operations } from './registry.ts';
import { firstOfEach, type Visit } from './visit.ts';

const base = '/api/v1';
/** Where assistants ask. */
export const assistantPath = '/mcp';
const mostBodyBytes = 64 * 1024;

const answerJson = (body: unknown, status = 200): Response => Response.json(body, { status, headers: { 'cache-control': 'no-store' } });

const router = new Hono<{ Bindings: { visit: Visit } }>({ strict: false });

/** `/apps/{app}/cases` as the router writes it: `/api/v1/apps/:app/cases` */
const routeOf = (path: string): string => base + path.replace(/\{(\w+)\}/g, ':$1');

for (const operation of operations as readonly unknown[] as readonly Operation[]) {
  const [method, path] = operation.key.split(' ') as [string, string];
  router.on(method, routeOf(path), async ({ env: { visit }, req }) => {
    const answer = await visit.run(operation, {
      path: req.param(),
      parameters: firstOfEach(new URL(req.url).searchParams),
      body: () => readJson(req.raw),
    });
    return answer instanceof Response ? answer : answerJson(answer, operation.status);
  });
}

const symbolicatedJsonSchema = madeOnce(() => z.toJSONSchema(symbolicatedSchema, { target: 'draft-2020-12' }));

// What the API can do, and the form of what "ember symbolicate --json" prints; neither holds anything of an app.
router.get(`${base}/openapi.json`, ({ env }) => Response.json(openApiDocument(env.visit.publicUrl)));
router.get(`${base}/symbolicated-schema.json`, () => Response.json(symbolicatedJsonSchema()));

/** Assistants ask by the Model Context Protocol, for what the same operations answer; there is nothing to listen to, and no session to end. */
router.all(assistantPath, async ({ env: { visit }, req }) => {
  await visit.requireSomebody();
  if (req.method !== 'POST')
    return answerJson(new ApiError('wrong-method', `${req.method} is not answered here; this address takes POST.`), 405);
  return answerAssistant(visit, req.raw, await readJson(req.raw));
});

const knownPaths = [...new Set(operations.map(({ key }) => key.split(' ')[1] as string))].map(
  (path) => [path, new RegExp(`^${base}${path.replace(/\{\w+\}/g, '[^/]+')}$`)] as const,
);

router.notFound(async ({ env: { visit }, req }) => {
  const known = knownPaths.find(([, pattern]) => pattern.test(req.path));
  const there = operations.filter(({ key }) => key.split(' ')[1] === known?.[0]);
  // Whoever is nobody learns nothing of which addresses there are, but for those that are open.
  if (!there.some(({ right }) => right === 'anybody')) await visit.requireSomebody();
  if (there.length === 0) throw new ApiError('not-found', 'There is no operation at this address.');
  const taken = there.map(({ key }) => key.split(' ')[0]).join(', ');
  throw new ApiError('wrong-method', `${req.method} is not answered here; this address takes ${taken}.`);
});

router.onError((error, { env: { visit }, req }) => {
  const known = visit.toApiError(error);
  const answer = answerJson(known, known.status);
  // A client learns by it that a token is wanted (RFC 9110, section 11.6.1).
  if (known.status === 401 && req.path === assistantPath) answer.headers.set('www-authenticate', 'Bearer');
  return answer;
});

/** Answers a request to the API: finds the operation, checks who asks and what was sent, and runs it. */
export async function answerApi(visit: Visit, request: Request): Promise<Response> {
  try {
    await visit.admit();
  } catch (error) {
    const known = visit.toApiError(error);
    return answerJson(known, known.status);
  }
  return visit.withCookies(await router.fetch(request, { visit }));
}

async function readJson(request: Request): Promise<unknown> {
  const body = request.body ? await readWhole(Readable.fromWeb(request.body as ReadableStream<Uint8Array>), mostBodyBytes) : '';
  try {
    return JSON.parse(body.toString());
  } catch {
    throw new ApiError('bad-request', 'The body is not JSON.');
  }
}
