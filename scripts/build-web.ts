import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { StartProblem } from './debian.ts';

/** What the build of the pages is made from. */
const inputs = [
  'web/src',
  'web/public',
  'web/astro.config.mjs',
  'web/postcss.config.mjs',
  'web/package.json',
  'core/src',
  'package-lock.json',
];
const stamp = 'web/dist/.built-from';

/** Builds the pages unless the build there is of the same sources. */
export function buildWeb(): void {
  const sources = hashOf(inputs);
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === sources) return;
  console.log('Building the pages (about half a minute) …');
  const built = spawnSync('npx', ['astro', 'build', '--silent'], {
    cwd: 'web',
    encoding: 'utf8',
    env: { ...process.env, NODE_ENV: 'production', ASTRO_TELEMETRY_DISABLED: '1' },
  });
  if (built.status !== 0) throw new StartProblem(`The pages could not be built:\n${built.stdout}${built.stderr}`);
  writeFileSync(stamp, sources);
}

function hashOf(paths: readonly string[]): string {
  const hash = createHash('sha256');
  for (const file of paths.filter((path) => existsSync(path)).flatMap(filesOf))
    if (!file.endsWith('.test.ts')) hash.update(`${file}\0`).update(readFileSync(file)).update('\0');
  return hash.digest('hex');
}

function filesOf(path: string): string[] {
  if (statSync(path).isFile()) return [path];
  const entries = readdirSync(path, { withFileTypes: true, recursive: true });
  return entries.flatMap((entry) => (entry.isFile() ? [join(entry.parentPath, entry.name)] : [])).sort();
}
