import { Validator } from '@seriousme/openapi-schema-validator';
import { describe, expect, it } from 'vitest';
import { rawRoutes } from '../http/raw-routes.ts';
import { describeAll, openApiDocument } from './openapi.ts';
import { operations } from './registry.ts';

interface Told {
  operationId: string;
  parameters: { name: string; in: string; required: boolean; schema: object }[];
  requestBody?: object;
  responses: Record<string, { content?: Record<string, { schema?: object }> }>;
}
const described = describeAll();
const document = openApiDocument('https://ember.example') as { paths: Record<string, Record<string, Told>> };
const told = Object.values(document.paths).flatMap((methods) => Object.values(methods));

describe('the API document', () => {
  it('is one by OpenAPI 3.1', async () => {
    const { valid, errors } = await new Validator().validate(document);
    expect(errors).toBeUndefined();
    expect(valid).toBe(true);
  });

  it('names every operation once, those of raw routes too', () => {
    const keys = described.map(({ key }) => key);
    expect(new Set(keys).size).toBe(keys.length);
    expect(new Set(told.map((one) => one.operationId)).size).toBe(keys.length);
    expect(keys).toEqual(expect.arrayContaining(operations.map(({ key }) => key.replace(' ', ' /api/v1'))));
    const raw = rawRoutes.filter(({ method }) => method !== 'OPTIONS').map(({ key }) => key);
    expect(keys).toEqual(expect.arrayContaining(raw));
  });

  it('says what each answers', () => {
    const silent = described.filter(({ answer }) => answer.type === 'application/json' && !answer.schema).map(({ key }) => key);
    // Of uploads in parts the protocol tells in headers; log records are answered by OTLP's own messages; the others are schemas.
    expect(silent.sort()).toEqual([
      'DELETE /api/v1/apps/{app}/symbol-uploads/{upload}',
      'GET /intake/v1/schema.json',
      'HEAD /api/v1/apps/{app}/symbol-uploads/{upload}',
      'POST /api/v1/apps/{app}/symbol-uploads',
      'POST /v1/logs',
    ]);
  });

  it('has the parameters, the bodies and the answers of operations', () => {
    const list = document.paths['/api/v1/apps/{app}/cases']?.get;
    expect(list?.parameters.map((one) => one.name)).toEqual(expect.arrayContaining(['app', 'last', 'filter', 'order', 'from']));
    expect(list?.parameters.find((one) => one.name === 'last')?.schema).toMatchObject({ enum: ['all', '1d', '7d', '14d', '30d', '90d'] });
    expect(list?.responses['200']?.content?.['application/json']?.schema).toEqual({ $ref: '#/components/schemas/CaseList' });
    expect(JSON.stringify(document.paths['/api/v1/apps/{app}/cases/actions']?.post?.requestBody)).toContain('"mute"');
    expect(document.paths['/api/v1/apps/{app}/attachments/{id}']?.get?.responses['200']?.content).toEqual({
      'application/octet-stream': {},
    });
  });
});
