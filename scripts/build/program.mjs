import { cpSync, readFileSync } from 'node:fs';
import { basename, join } from 'node:path';
import { BuildProblem, buildOf, nodeBuild, ours, root } from './build-of.mjs';

/** Every file of our own that is started: commands, threads, and the command line. */
export const commands = ['start', 'new-password', 'rebuild-sessions', 'check-symbols', 'backup', 'restore'];
const threads = [
  'server/src/jobs/worker.ts',
  'server/src/session-index/session-worker.ts',
  'server/src/report-index/index-worker.ts',
  'scripts/demo-sender.ts',
];

/** Packages that are part of a build beside our own, since they are many small files; all others are loaded as they are. */
const bundled = ['zod', 'hono'];
const packages = ['.', 'core', 'store', 'server', 'demo']
  .flatMap((folder) => Object.keys(JSON.parse(readFileSync(join(root, folder, 'package.json'), 'utf8')).dependencies ?? {}))
  .filter((name) => !name.startsWith('@rough-ember/'));

const entriesOf = (names) => [
  ...names.map((name) => ({ in: `scripts/${name}.ts`, out: name })),
  ...threads.map((path) => ({ in: path, out: basename(path, '.ts') })),
];
const programBuild = {
  ...nodeBuild,
  entryPoints: entriesOf(commands),
  outExtension: { '.js': '.mjs' },
  chunkNames: 'part-[hash]',
  splitting: true,
  external: packages.filter((name) => !bundled.includes(name)),
};
const copyMigrations = (folder) => cpSync(join(root, 'store/src/migrations'), join(folder, 'migrations'), { recursive: true });

/** The server and its commands. */
export const buildProgram = () =>
  buildOf('dist', [...ours('core', 'store', 'server', 'demo'), 'scripts'], async (outdir) => {
    const { build } = await import('esbuild');
    await build({ ...programBuild, outdir });
    copyMigrations(outdir);
  });

/** The server for development, into one folder that is built again with what has changed; all packages stay outside. */
export async function watchProgram() {
  const { context } = await import('esbuild');
  const folder = join(root, 'dist/development');
  const builder = await context({ ...programBuild, entryPoints: entriesOf(['start']), external: packages, outdir: folder });
  /** Gives null, or what does not compile. */
  const rebuild = async () => {
    try {
      await builder.rebuild();
      copyMigrations(folder);
      return null;
    } catch (error) {
      return error.message;
    }
  };
  const problem = await rebuild();
  if (problem !== null) throw new BuildProblem(problem);
  return { folder, rebuild, end: () => builder.dispose() };
}
