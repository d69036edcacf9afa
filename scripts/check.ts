import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { type Check, formAndLint, runChecks, typedFolders, typesOf, typesOfPages } from './checks.ts';

/**
 * `npm run check`: form, lint, types, and the unit tests that the change touches, before a commit. A change is what differs from
 * the last commit; another revision may be named.
 */
export async function main([since = 'HEAD']: readonly string[]): Promise<number> {
  const changed = execFileSync('git', ['diff', '--name-only', since], { encoding: 'utf8' })
    .concat(execFileSync('git', ['ls-files', '--others', '--exclude-standard'], { encoding: 'utf8' }))
    .split('\n')
    .filter((name) => name !== '');
  const types: Check[] = typedFolders.map(typesOf);
  if (changed.some((name) => name.endsWith('.astro'))) types.push(typesOfPages);
  const failed = await runChecks([formAndLint, ...types]);
  const sources = changed.filter((name) => /\.tsx?$/.test(name) && existsSync(name));
  if (sources.length === 0) return failed > 0 ? 1 : 0;
  const tests = spawnSync('npx', ['--no-install', 'vitest', 'related', '--run', '--project', 'unit', '--passWithNoTests', ...sources], {
    stdio: 'inherit',
    env: { ...process.env, npm_config_loglevel: 'error' },
  });
  return failed > 0 || tests.status !== 0 ? 1 : 0;
}
