import { z } from 'zod';
import { errorList } from '../errors.ts';
import { type Operation, operations } from './operations.ts';

const rightWords: Readonly<Record<Operation['right'], string>> = {
  read: 'Takes a token that may read, or a sign-in.',
  change: 'Takes a token that may change, or the sign-in of a developer.',
  owner: 'Takes the sign-in of an owner.',
};

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

/** The read/write API as an OpenAPI 3.1 document, made from the schemas that check the requests. */
export function openApiDocument(publicUrl: string): object {
  const paths: Record<string, Record<string, object>> = {};
  for (const operation of operations) {
    const path = `/apps/{app}${operation.path}`;
    const of = paths[path] ?? {};
    paths[path] = { ...of, [operation.method]: describe(operation) };
  }
  return {
    openapi: '3.1.0',
    info: {
      title: 'Rough Ember',
      version: '1',
      description: 'Cases, reports, people and views of an app. Times are ISO 8601 in UTC; every error says what to do.',
    },
    servers: [{ url: `${publicUrl}/api/v1` }],
    security: [{ token: [] }],
    paths,
    components: {
      securitySchemes: { token: { type: 'http', scheme: 'bearer', description: 'An API token, made on the Intake page.' } },
      schemas: { Error: errorSchema },
    },
  };
}

function describe({ method, path, does, right, parameters, body, status = 200 }: Operation): object {
  const inPath = ['app', ...[...path.matchAll(/\{(\w+)\}/g)].map((match) => match[1] as string)];
  const query = parameters ? (schemaOf(parameters) as { properties: Record<string, object>; required?: string[] }) : null;
  return {
    operationId: `${method}${path.replace(/[^a-z]+([a-z]?)/gi, (_, letter: string) => letter.toUpperCase())}`,
    summary: does,
    description: rightWords[right],
    parameters: [
      ...inPath.map((name) => ({ name, in: 'path', required: true, schema: { type: 'string' } })),
      ...Object.entries(query?.properties ?? {}).map(([name, schema]) => ({
        name,
        in: 'query',
        required: query?.required?.includes(name) ?? false,
        schema,
      })),
    ],
    ...(body ? { requestBody: { required: true, content: { 'application/json': { schema: schemaOf(body) } } } } : {}),
    responses: {
      [status]: { description: 'Done.', content: { 'application/json': { schema: {} } } },
      default: { description: 'Refused.', content: { 'application/json': { schema: { $ref: '#/components/schemas/Error' } } } },
    },
  };
}
