import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';

const root = fileURLToPath(new URL('..', import.meta.url));

/** What a folder may import: other folders of ours, those of which it may have types alone, and packages. */
interface Layer {
  readonly ours: readonly string[];
  readonly types?: readonly string[];
  readonly packages: RegExp;
}

/** Who may import whom; the way is always down. What stands in no row may not be imported at all. */
const layers: Readonly<Record<string, Layer>> = {
  'core/src': { ours: [], packages: /^(zod|re2js|protobufjs\/minimal\.js|fzstd|xz-decompress|@babel\/parser|@zip\.js\/zip\.js)$/ },
  'store/src': { ours: ['core/src'], packages: /^(knex|mysql2|mysql2\/promise|zod|node:.*)$/ },
  'server/src': { ours: ['core/src', 'store/src'], packages: /^(?!astro|react|@astrojs|@mantine|knex|mysql2)/ },
  // Screens ask the server by its operations; nothing of it is part of them.
  'web/src': { ours: ['core/src'], types: ['server/src'], packages: /^(?!knex|mysql2|piscina)/ },
  'web/dev': { ours: ['web/src'], types: ['server/src'], packages: /^$/ },
  'cli/src': { ours: ['core/src'], packages: /^(commander|cli-progress|tus-js-client(\/.*)?|hyparquet-writer|node:.*)$/ },
  'collector/src': { ours: [], packages: /^node:(fs|path)$/ },
  'demo/src': { ours: ['core/src'], packages: /^(node:.*|esbuild|smtp-server|postal-mime|standardwebhooks)$/ },
  scripts: { ours: ['core/src', 'store/src', 'server/src', 'demo/src', 'cli/src'], packages: /^(?!astro|react|@mantine)/ },
};

/** What tests may have beside what their folder may: the product as a whole, and each other's helpers. */
const ofTests: Layer = {
  ours: [...Object.keys(layers), 'web/e2e'],
  packages:
    /^(vitest|fast-check|playwright-core|ajv\/.*|@axe-core\/playwright|@seriousme\/.*|@jridgewell\/.*|@opentelemetry\/.*|esbuild|mysql2(\/promise)?|@zip\.js\/.*|hyparquet|node:.*|zod)$/,
};

interface Import {
  readonly file: string;
  readonly target: string;
  readonly typeOnly: boolean;
}

const isTest = (file: string): boolean => /\.test\.tsx?$|\/testing\/|^web\/e2e\//.test(file);

const filesOf = (folder: string): string[] =>
  readdirSync(join(root, folder), { recursive: true, encoding: 'utf8' })
    .map((name) => join(folder, name))
    .filter((name) => /\.(tsx?|astro)$/.test(name) && !/node_modules|\.d\.ts$/.test(name));

function importsOf(file: string): Import[] {
  // Code in a template is text.
  const text = readFileSync(join(root, file), 'utf8').replace(/`(?:[^`\\]|\\.)*`/g, '``');
  const statements = text.matchAll(/(?:^|\n)(?:import|export)\s+(type\s)?(?:([\w$*{},\s]+)\sfrom\s+)?['"]([^'"]+)['"]/g);
  return [...statements].map(([, type, names = '', target]) => ({
    file,
    target: target as string,
    typeOnly: type !== undefined || /^\{(\s*type\s+[\w$]+(\s+as\s+\w+)?,?\s*)+\}$/.test(names.trim()),
  }));
}

/** The file or folder an import leads to, from the root; null for a package. */
function placeOf({ file, target }: Import): string | null {
  const own = /^@rough-ember\/([\w-]+)\/(.+)$/.exec(target);
  if (own) return `${own[1]}/src/${own[2]}`;
  return target.startsWith('.') ? relative(root, join(root, dirname(file), target)) : null;
}

const layerOf = (place: string): string => [...Object.keys(layers), 'web/e2e'].find((folder) => place.startsWith(`${folder}/`)) ?? place;

describe.each(Object.keys(layers))('%s', (folder) => {
  const { ours, types = [], packages } = layers[folder] as Layer;
  const isAllowed = (one: Import, layer: Layer): boolean => {
    const place = placeOf(one);
    if (place === null) return layer.packages.test(one.target);
    const other = layerOf(place);
    // A package's own version stands beside its sources.
    if (other === folder || /\/package\.json$/.test(place)) return true;
    return layer.ours.includes(other) || (one.typeOnly && (layer.types ?? []).includes(other));
  };

  it('imports only what lies below it', () => {
    const wrong = filesOf(folder)
      .filter((file) => !isTest(file))
      .flatMap(importsOf)
      .filter((one) => !isAllowed(one, { ours, types, packages }));
    expect(wrong.map(({ file, target }) => `${file} imports ${target}`)).toEqual([]);
  });

  it('has tests that import nothing but what tests may', () => {
    const wrong = filesOf(folder)
      .filter(isTest)
      .flatMap(importsOf)
      .filter((one) => !isAllowed(one, { ours, types, packages }) && !isAllowed(one, ofTests));
    expect(wrong.map(({ file, target }) => `${file} imports ${target}`)).toEqual([]);
  });
});

it('only tests import tests, and what measures and pictures the product', () => {
  const all = [...Object.keys(layers), 'web/e2e'].flatMap(filesOf);
  const wrong = all
    .filter((file) => !isTest(file) && !file.startsWith('scripts/'))
    .flatMap(importsOf)
    .filter((one) => isTest(`${placeOf(one) ?? ''}`));
  expect(wrong.map(({ file, target }) => `${file} imports ${target}`)).toEqual([]);
});

describe('the front doors of packages', () => {
  const packageOf = (place: string): string => place.split('/')[0] as string;
  const all = [...Object.keys(layers), 'web/e2e'].flatMap(filesOf).flatMap(importsOf);

  it('are the only way in, except for tests', () => {
    const around = all.filter((one) => {
      const place = placeOf(one);
      const goesAround = place !== null && one.target.startsWith('.') && packageOf(place) !== packageOf(one.file);
      return goesAround && !isTest(one.file) && !isTest(place);
    });
    expect(around.map(({ file, target }) => `${file} imports ${target}`)).toEqual([]);
  });

  it.each(['core', 'store', 'server', 'demo'])('of %s lead to what somebody outside asks for', (name) => {
    const { exports } = JSON.parse(readFileSync(join(root, name, 'package.json'), 'utf8')) as { exports: Record<string, string> };
    const asked = new Set(all.map(({ target }) => target));
    const modules = Object.keys(exports).filter((door) => door !== './package.json');
    expect(modules.filter((door) => !asked.has(`@rough-ember/${name}${door.slice(1)}`))).toEqual([]);
  });
});

it('sees the imports it judges', () => {
  expect(
    filesOf('core/src')
      .flatMap(importsOf)
      .some((one) => one.target === 'zod'),
  ).toBe(true);
  expect(filesOf('web/src').flatMap(importsOf).length).toBeGreaterThan(500);
});

it('no folders of the server need each other in a circle', () => {
  const needs = new Map<string, Set<string>>();
  const folderOf = (place: string) => place.split('/').slice(0, 3).join('/');
  for (const one of filesOf('server/src')
    .filter((file) => !isTest(file))
    .flatMap(importsOf)) {
    const place = placeOf(one);
    if (one.typeOnly || !place?.startsWith('server/src/')) continue;
    const [from, to] = [folderOf(one.file), folderOf(place)];
    if (from !== to) needs.set(from, (needs.get(from) ?? new Set()).add(to));
  }
  const circles: string[] = [];
  const walk = (at: string, way: readonly string[]) => {
    if (way.includes(at)) circles.push([...way.slice(way.indexOf(at)), at].join(' → '));
    else if (circles.length === 0) for (const next of needs.get(at) ?? []) walk(next, [...way, at]);
  };
  for (const folder of needs.keys()) walk(folder, []);
  expect(circles).toEqual([]);
  expect(needs.size).toBeGreaterThan(10);
});

it('the core touches no clock, no chance and no machine', () => {
  const files = readdirSync(join(root, 'core/src'), { recursive: true, encoding: 'utf8' }).filter((name) =>
    /(?<!\.test|\.d)\.ts$/.test(name),
  );
  const wrong = files.filter((name) =>
    /\b(Date\.now|new Date\(\)|Math\.random|(?<!['"])process\.\w|globalThis|fetch\(|setTimeout|Buffer\.|require\()/.test(
      readFileSync(join(root, 'core/src', name), 'utf8'),
    ),
  );
  expect(wrong).toEqual([]);
});
