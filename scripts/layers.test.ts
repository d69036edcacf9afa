import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import { fileURLToPath } from 'node:url';
import { expect, it } from 'vitest';

const root = fileURLToPath(new URL('..', import.meta.url));

/** Which of our workspaces each may import, and which packages; the way is always down. */
const mayImport: Readonly<Record<string, { ours: readonly string[]; packages: RegExp }>> = {
  core: { ours: [], packages: /^(zod|re2js|protobufjs\/minimal\.js|fzstd|xz-decompress|@babel\/parser|@zip\.js\/zip\.js)$/ },
  store: { ours: ['core'], packages: /^(knex|mysql2|node:.*)$/ },
  server: { ours: ['core', 'store'], packages: /^(?!astro|react|@astrojs|@mantine|knex|mysql2)/ },
  cli: { ours: ['core'], packages: /^(commander|cli-progress|tus-js-client(\/.*)?|node:.*)$/ },
  collector: { ours: [], packages: /^node:(fs|path)$/ },
  demo: { ours: ['core'], packages: /^node:/ },
  web: { ours: ['core', 'server', 'store'], packages: /^(?!knex|mysql2)/ },
};

/** What runs in the browser may have types from the server, but none of its code. */
const browserFolders =
  /^web\/src\/(islands|shell|stack|case-file|crash-free|versions|now|sessions|scope|desk|symbols|bench|intake|words|client|theme)\//;

interface Import {
  readonly file: string;
  readonly target: string;
  readonly typeOnly: boolean;
}

function importsOf(workspace: string): Import[] {
  const files = readdirSync(join(root, workspace, 'src'), { recursive: true, encoding: 'utf8' })
    .map((name) => join(workspace, 'src', name))
    .filter((name) => /\.(tsx?|astro)$/.test(name) && !/\.test\.|\/testing\//.test(name));
  return files.flatMap((file) => {
    const text = readFileSync(join(root, file), 'utf8').replace(/`(?:[^`\\]|\\.)*`/g, '``');
    const statements = text.matchAll(/(?:^|\n)(?:import|export)\s+(type\s)?(?:[\w$*{},\s]+\sfrom\s+)?['"]([^'"]+)['"]/g);
    return [...statements].map((match) => ({ file, typeOnly: match[1] !== undefined, target: match[2] as string }));
  });
}

/** The workspace an import leads to, or null for a package. */
function workspaceOf({ file, target }: Import): string | null {
  if (target.startsWith('@rough-ember/')) return target.split('/')[1] as string;
  if (!target.startsWith('.')) return null;
  return relative(root, join(root, dirname(file), target)).split('/')[0] as string;
}

it.each(Object.keys(mayImport))('%s imports only what lies below it', (workspace) => {
  const { ours, packages } = mayImport[workspace] as (typeof mayImport)[string];
  const wrong = importsOf(workspace).filter((one) => {
    const other = workspaceOf(one);
    if (other === null) return !packages.test(one.target);
    if (browserFolders.test(one.file) && other !== 'core' && other !== 'web') return !one.typeOnly;
    return other !== workspace && !ours.includes(other);
  });
  expect(wrong.map(({ file, target }) => `${file} imports ${target}`)).toEqual([]);
});

it('sees the imports it judges', () => {
  expect(importsOf('core').some((one) => one.target === 'zod')).toBe(true);
  expect(importsOf('web').length).toBeGreaterThan(50);
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
