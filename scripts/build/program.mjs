import { cpSync } from 'node:fs';
import { basename, join } from 'node:path';
import { buildOf, nodeBuild, ours, root } from './build-of.mjs';

/** Every file of our own that is started: commands, threads, and the command line. */
export const commands = ['start', 'new-password', 'rebuild-sessions', 'check-symbols'];
const threads = [
  'server/src/jobs/worker.ts',
  'server/src/session-index/session-worker.ts',
  'server/src/report-index/index-worker.ts',
  'scripts/demo-sender.ts',
];

/** What is part of a build: our own packages, and those that are many small files; all others are loaded as they are. */
const isBundled = (path) => /^(@rough-ember\/|zod$|hono(\/|$))/.test(path);
const onlyOurs = {
  name: 'only-ours',
  setup(build) {
    build.onResolve({ filter: /^[^./]/ }, ({ path, kind }) =>
      kind === 'entry-point' || isBundled(path) ? undefined : { path, external: true },
    );
  },
};

/** The server and its commands. */
export const buildProgram = () =>
  buildOf('dist', [...ours('core', 'store', 'server', 'demo'), 'scripts'], async (folder) => {
    const { build } = await import('esbuild');
    await build({
      ...nodeBuild,
      entryPoints: [
        ...commands.map((name) => ({ in: `scripts/${name}.ts`, out: name })),
        ...threads.map((path) => ({ in: path, out: basename(path, '.ts') })),
      ],
      outdir: folder,
      outExtension: { '.js': '.mjs' },
      chunkNames: 'part-[hash]',
      splitting: true,
      plugins: [onlyOurs],
    });
    cpSync(join(root, 'store/src/migrations'), join(folder, 'migrations'), { recursive: true });
  });
