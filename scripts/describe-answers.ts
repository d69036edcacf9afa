import { writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { buildGenerator, type Definition, programFromConfig } from 'typescript-json-schema';

const root = fileURLToPath(new URL('..', import.meta.url));
export const answersFile = `${root}server/src/api/answers.json`;

/** A type with a name of its own; what has none is written out where it stands. */
const isNamed = (name: string): boolean => /^[A-Z]\w*$/.test(name) && !/^(Omit|Pick|Record|Partial|Response|Headers)(_\d+)?$/.test(name);

/**
 * Properties and alternatives by their names: the compiler's own order follows what it happened to look at first, so that a change
 * of something else would change it.
 */
function inOrder(name: string, value: unknown): unknown {
  if (name === 'properties') return Object.fromEntries(Object.entries(value as object).sort(([a], [b]) => (a < b ? -1 : 1)));
  if (name === 'anyOf') return [...(value as unknown[])].sort((a, b) => (JSON.stringify(a) < JSON.stringify(b) ? -1 : 1));
  return value;
}

/**
 * The JSON Schemas of what operations answer, from the types of the functions that make the answers: one for each operation,
 * with the named types that they refer to.
 */
export function describeAnswers(): { properties: Record<string, Definition>; definitions: Record<string, Definition> } {
  const program = programFromConfig(`${root}server/tsconfig.json`, [`${root}server/src/api/answers.ts`]);
  // The generator guesses defaults from initialisers and says so for each that it cannot read; none is wanted here.
  const warn = console.warn;
  console.warn = () => {};
  const made = buildGenerator(program, { required: true, ref: true, strictNullChecks: true, ignoreErrors: true })?.getSchemaForSymbol(
    'Answers',
  );
  console.warn = warn;
  const all = (made?.definitions ?? {}) as Record<string, Definition>;
  const used = new Set<string>();

  const rewritten = (value: unknown): unknown => {
    if (Array.isArray(value)) return value.map(rewritten);
    if (typeof value !== 'object' || value === null) return value;
    const { $ref, default: _guessed, ...rest } = value as Record<string, unknown> & { $ref?: string };
    if (Array.isArray(rest.items)) {
      // A pair has items by their places: "prefixItems" since JSON Schema 2020-12.
      const { items, additionalItems: _further, ...bounds } = rest;
      return rewritten({ ...bounds, prefixItems: items, items: false });
    }
    // JSON has no NaN; what may be one says so.
    if (rest.type === 'number' && String(rest.description).includes('null in JSON')) rest.type = ['number', 'null'];
    if ($ref === undefined) return Object.fromEntries(Object.entries(rest).map(([name, one]) => [name, inOrder(name, rewritten(one))]));
    const name = decodeURIComponent($ref.replace('#/definitions/', ''));
    if (!isNamed(name)) return rewritten({ ...all[name], ...rest });
    used.add(name);
    return { ...rest, $ref: `#/components/schemas/${name}` };
  };

  const properties: Record<string, Definition> = {};
  for (const [key, schema] of Object.entries((made?.properties ?? {}) as Record<string, Definition & { $ref?: string }>))
    if (!schema.$ref?.endsWith('/Response')) properties[key] = rewritten(schema) as Definition;
  const definitions: Record<string, Definition> = {};
  // Writing one definition may name others.
  for (const name of used) definitions[name] = rewritten(all[name]) as Definition;
  return { properties, definitions: Object.fromEntries(Object.entries(definitions).sort(([a], [b]) => (a < b ? -1 : 1))) };
}

/** The schemas as JSON, one a line, so that a change of an answer is a line of a difference. */
export function printAnswers(): string {
  const lines = (schemas: Record<string, Definition>) =>
    Object.entries(schemas).map(([name, schema]) => `${JSON.stringify(name)}: ${JSON.stringify(schema)}`);
  const { properties, definitions } = describeAnswers();
  return `{"properties":{\n${lines(properties).join(',\n')}\n},"definitions":{\n${lines(definitions).join(',\n')}\n}}\n`;
}

/** `npm run describe-answers`: writes the file anew; a test holds it equal to the types. */
export function main(): number {
  writeFileSync(answersFile, printAnswers());
  return 0;
}
