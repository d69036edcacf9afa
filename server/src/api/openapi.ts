import { z } from 'zod';
import { errorList } from '../errors.ts';
import { type RawDescription, rawRights } from '../http/raw-route.ts';
import { rawRoutes } from '../http/raw-routes.ts';
import { madeOnce } from '../made-once.ts';
import { type Operation, rights } from '../operation/operation.ts';
import answers from './answers.json' with { type: 'json' };
import { operations } from './registry.ts';

const schemaOf = (schema: z.ZodType) => {
  const { $schema: _dialect, ...rest } = z.toJSONSchema(schema, { io: 'input', unrepresentable: 'any' });
  return rest;
};

const errorSchema = {
  type: 'object',
  required: ['error'],
  properties: {
    error: {
      type: 'object',
      required: ['code', 'message', 'remedy'],
      properties: {
        code: { type: 'string', enum: Object.keys(errorList) },
        message: { type: 'string', description: 'What is wrong.' },
        remedy: { type: 'string', description: 'What to do about it.' },
      },
    },
  },
};

/** One operation, wherever it is declared. */
interface Described {
  /** Method and whole path. */
  readonly key: string;
  readonly does: string;
  readonly rightWords: string;
  readonly scheme: 'token' | 'intakeKey' | 'signIn' | null;
  readonly parameters?: z.ZodType | undefined;
  readonly request?: { readonly types: readonly string[]; readonly schema: object } | undefined;
  readonly answer: { readonly status: number; readonly type: string; readonly schema: object | undefined };
}

const answerSchemas: Readonly<Record<string, object>> = answers.properties;

function ofOperation({ key, does, right, parameters, body, status = 200, produces }: Operation): Described {
  const { role, tokens, words } = rights[right];
  return {
    key: key.replace(' ', ' /api/v1'),
    does,
    rightWords: words,
    scheme: role === null ? null : tokens === 'none' ? 'signIn' : 'token',
    parameters,
    request: body && { types: ['application/json'], schema: schemaOf(body) },
    answer: { status, type: produces ?? 'application/json', schema: produces ? undefined : answerSchemas[key] },
  };
}

const ofRawRoute = (key: string, { does, takes, parameters, consumes, produces, body, status }: RawDescription): Described => ({
  key,
  does,
  rightWords: rawRights[takes],
  scheme: takes === 'nothing' ? null : takes === 'key' ? 'intakeKey' : 'token',
  parameters,
  request: consumes && { types: consumes, schema: body?.() ?? {} },
  answer: { status, type: produces ?? 'application/json', schema: answerSchemas[key] },
});

const documents: readonly Described[] = [
  ['GET /api/v1/openapi.json', 'This document.'] as const,
  ['GET /api/v1/symbolicated-schema.json', 'JSON Schema of what "ember symbolicate --json" prints.'] as const,
].map(([key, does]) => ({
  key,
  does,
  rightWords: rawRights.nothing,
  scheme: null,
  answer: { status: 200, type: 'application/json', schema: { type: 'object' } },
}));

/** Everything that is answered over HTTP beside the pages. */
export const describeAll = madeOnce((): readonly Described[] => [
  ...(operations as readonly unknown[] as readonly Operation[]).map(ofOperation),
  ...rawRoutes.flatMap(({ key, description }) => (description ? [ofRawRoute(key, description)] : [])),
  ...documents,
]);

const describedPaths = madeOnce(() => {
  const paths: Record<string, Record<string, object>> = {};
  for (const one of describeAll()) {
    const [method, path] = one.key.split(' ') as [string, string];
    paths[path] = { ...paths[path], [method.toLowerCase()]: describe(one) };
  }
  return paths;
});

/** The whole HTTP interface as an OpenAPI 3.1 document, made from what checks the requests and from the types of the answers. */
export function openApiDocument(publicUrl: string): object {
  return {
    openapi: '3.1.0',
    info: {
      title: 'Rough Ember',
      version: '1',
      description: 'Intake, cases, reports, people and views of apps. Times are ISO 8601 in UTC; every error says what to do.',
    },
    servers: [{ url: publicUrl }],
    paths: describedPaths(),
    components: {
      securitySchemes: {
        token: { type: 'http', scheme: 'bearer', description: 'An API token, made on the Intake page.' },
        intakeKey: { type: 'http', scheme: 'bearer', description: 'An intake key, as the Intake page shows it.' },
        signIn: { type: 'apiKey', in: 'cookie', name: 'ember_sign_in', description: 'What POST /api/v1/sign-in gives.' },
      },
      schemas: { Error: errorSchema, ...answers.definitions },
    },
  };
}

function describe({ key, does, rightWords, scheme, parameters, request, answer }: Described): object {
  const [method, path] = key.split(' ') as [string, string];
  const query = parameters ? (schemaOf(parameters) as { properties: Record<string, object>; required?: string[] }) : null;
  return {
    operationId:
      method.toLowerCase() + path.replace(/^\/api\/v1/, '').replace(/[^a-z]+([a-z]?)/gi, (_, letter: string) => letter.toUpperCase()),
    summary: does,
    description: rightWords,
    security: scheme === null ? [] : scheme === 'token' ? [{ token: [] }, { signIn: [] }] : [{ [scheme]: [] }],
    parameters: [
      ...[...path.matchAll(/\{(\w+)\}/g)].map(([, name]) => ({ name, in: 'path', required: true, schema: { type: 'string' } })),
      ...Object.entries(query?.properties ?? {}).map(([name, schema]) => ({
        name,
        in: 'query',
        required: query?.required?.includes(name) ?? false,
        schema,
      })),
    ],
    ...(request && {
      requestBody: { required: true, content: Object.fromEntries(request.types.map((type) => [type, { schema: request.schema }])) },
    }),
    responses: {
      [answer.status]: {
        description: 'Done.',
        ...(answer.schema || answer.type !== 'application/json'
          ? { content: { [answer.type]: answer.schema ? { schema: answer.schema } : {} } }
          : {}),
      },
      default: { description: 'Refused.', content: { 'application/json': { schema: { $ref: '#/components/schemas/Error' } } } },
    },
  };
}
