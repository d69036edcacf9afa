import { buildOf, nodeBuild, ours } from './build-of.mjs';

/** What esbuild is told of the command line: files that need no package. */
export const commandLineBuild = {
  ...nodeBuild,
  entryPoints: { ember: 'cli/src/main.ts' },
  outExtension: { '.js': '.mjs' },
  chunkNames: 'part-[hash]',
  splitting: true,
  banner: {
    // Packages that are CommonJS ask for Node's own modules this way.
    js: "import { createRequire as requireOf } from 'node:module'; const require = requireOf(import.meta.url);",
  },
};

/** The command line as it runs from a checkout. */
export const buildCommandLine = () =>
  buildOf('cli/dist', ours('core', 'cli'), async (outdir) => {
    const { build } = await import('esbuild');
    await build({ ...commandLineBuild, outdir });
  });
