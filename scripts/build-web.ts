import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { StartProblem } from './debian.ts';

interface Package {
  readonly name: string;
  readonly dependencies?: Readonly<Record<string, string>>;
}

const readPackage = (folder: string): Package => JSON.parse(readFileSync(join(folder, 'package.json'), 'utf8')) as Package;

/** The folders of a package of ours and of all of ours that it is made of: what it imports is part of its build. */
function foldersOf(folder: string, found = new Set<string>()): Set<string> {
  if (found.has(folder)) return found;
  found.add(folder);
  for (const name of Object.keys(readPackage(folder).dependencies ?? {})) {
    const own = /^@rough-ember\/(.+)$/.exec(name)?.[1];
    if (own !== undefined) foldersOf(own, found);
  }
  return found;
}

/** What the pages and the server that serves them are made from. */
const inputs = (): string[] => [
  'package-lock.json',
  'tsconfig.base.json',
  'web/public',
  'web/astro.config.mjs',
  'web/postcss.config.mjs',
  'web/tsconfig.json',
  ...[...foldersOf('web')].flatMap((folder) => [join(folder, 'src'), join(folder, 'package.json')]),
];

const stamp = 'web/dist/.built-from';

/** Builds the pages unless the build there is of the same sources; gives the stamp of these, which names this state of the program. */
export function buildWeb(): string {
  const sources = hashOf(inputs());
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === sources) return sources;
  console.log('Building the pages (about half a minute) …');
  const built = spawnSync('npx', ['astro', 'build', '--silent'], {
    cwd: 'web',
    encoding: 'utf8',
    env: { ...process.env, NODE_ENV: 'production', ASTRO_TELEMETRY_DISABLED: '1' },
  });
  if (built.status !== 0) throw new StartProblem(`The pages could not be built:\n${built.stdout}${built.stderr}`);
  writeFileSync(stamp, sources);
  return sources;
}

function hashOf(paths: readonly string[]): string {
  const hash = createHash('sha256');
  for (const file of paths.filter((path) => existsSync(path)).flatMap(filesOf))
    if (!/\.test\.ts$|\/testing\//.test(file)) hash.update(`${file}\0`).update(readFileSync(file)).update('\0');
  return hash.digest('hex');
}

function filesOf(path: string): string[] {
  if (statSync(path).isFile()) return [path];
  const entries = readdirSync(path, { withFileTypes: true, recursive: true });
  return entries.flatMap((entry) => (entry.isFile() ? [join(entry.parentPath, entry.name)] : [])).sort();
}
