import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';
import { openApiDocument } from './openapi.ts';
import { operations } from './operations.ts';

const endpoints = fileURLToPath(new URL('../../../web/src/pages/api/v1/apps/[app]', import.meta.url));
const fileOf = (path: string) => {
  const base = `${endpoints}${path.replace(/\{(\w+)\}/g, '[$1]')}`;
  return [`${base}.ts`, `${base}/index.ts`].find(existsSync);
};

describe('the API document', () => {
  it('describes what the endpoints really do, method by method', () => {
    for (const { method, path, right } of operations) {
      const file = fileOf(path);
      expect(file, path).toBeDefined();
      const text = readFileSync(file as string, 'utf8');
      expect(text, `${method} ${path}`).toContain(`export const ${method.toUpperCase()}`);
      const role = { read: 'requireAppRight(context)', change: "'developer'", owner: "'owner'" }[right];
      expect(text, `${method} ${path}`).toContain(role);
    }
  });

  it('leaves out no endpoint of cases, reports, people, fields, views and grouping', () => {
    const described = new Set(operations.map(({ method, path }) => `${method} ${fileOf(path)}`));
    const files = readdirSync(endpoints, { recursive: true, encoding: 'utf8' })
      .map((name) => `${endpoints}/${name}`)
      .filter((name) =>
        /\/(cases|reports|views|grouping|attributes|retention|crash-free|versions|rollouts|flag-changes|sessions)\/.*\.ts$|\/(person|screens|requests|fields|values|source|desk-settings|stability-settings|scrub-rules|scrub-trial)\.ts$/.test(
          name,
        ),
      );
    expect(files.length).toBeGreaterThan(20);
    for (const file of files)
      for (const [, method] of readFileSync(file, 'utf8').matchAll(/export const (GET|POST|PUT|DELETE)\b/g))
        expect(described).toContain(`${method?.toLowerCase()} ${file}`);
  });

  it('names each operation once, with its parameters, bodies and errors', () => {
    const { paths } = openApiDocument('https://ember.example') as {
      paths: Record<string, Record<string, { operationId: string; parameters: { name: string }[]; requestBody?: object }>>;
    };
    const ids = Object.values(paths).flatMap((methods) => Object.values(methods).map((one) => one.operationId));
    expect(new Set(ids).size).toBe(operations.length);
    expect(paths['/apps/{app}/cases']?.get?.parameters.map((one) => one.name)).toEqual(
      expect.arrayContaining(['app', 'last', 'filter', 'order', 'from']),
    );
    expect(JSON.stringify(paths['/apps/{app}/cases/actions']?.post?.requestBody)).toContain('"mute"');
  });
});
