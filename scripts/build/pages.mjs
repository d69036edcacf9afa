import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { BuildProblem, buildOf, holdBuild, ours, root } from './build-of.mjs';

/** The pages. They hold nothing of the server but its types. */
export async function buildPages() {
  const folder = await buildOf(
    'web/dist',
    [...ours('core', 'web'), 'web/public', 'web/astro.config.mjs', 'web/postcss.config.mjs', 'web/tsconfig.json'],
    async (folder) => {
      console.log('Building the pages (about half a minute) …');
      const built = spawnSync('npx', ['astro', 'build', '--silent', '--outDir', folder], {
        cwd: join(root, 'web'),
        encoding: 'utf8',
        env: { ...process.env, NODE_ENV: 'production', ASTRO_TELEMETRY_DISABLED: '1' },
      });
      if (built.status !== 0) throw new BuildProblem(`The pages could not be built:\n${built.stdout}${built.stderr}`);
    },
  );
  holdBuild(folder);
  return folder;
}
