import { spawn } from 'node:child_process';
import { availableParallelism } from 'node:os';

/** Something that must hold before any test is worth running. */
export interface Check {
  readonly name: string;
  readonly command: readonly [string, ...string[]];
  readonly folder?: string;
}

const ofPackage = (...command: string[]): Check['command'] => ['npx', '--no-install', ...command];

export const formAndLint: Check = { name: 'format and lint', command: ofPackage('biome', 'check', '--error-on-warnings', '.') };

/** The compiled compiler takes a fifth of the time of the one that pages are read with, and both call themselves `tsc`. */
const compiler = 'node_modules/typescript-7/bin/tsc';

/** The folders whose types are checked by themselves, each under its own rules. */
export const typedFolders = ['core', 'store', 'server', 'cli', 'demo', 'collector', 'web', '.'] as const;

/** What did not change since the last check is not looked at again. */
export const typesOf = (folder: (typeof typedFolders)[number]): Check => ({
  name: `types of ${folder}`,
  command: [
    process.execPath,
    compiler,
    '-p',
    folder,
    '--incremental',
    '--tsBuildInfoFile',
    `node_modules/.cache/types/${folder === '.' ? 'root' : folder}.tsbuildinfo`,
  ],
});

/** Types of pages, which the compiler alone cannot read. */
export const typesOfPages: Check = {
  name: 'types of pages',
  command: ofPackage('astro', 'check', '--minimumSeverity', 'warning', '--tsconfig', 'tsconfig.pages.json'),
  folder: 'web',
};

/** Runs checks side by side, prints what each found, and gives how many failed. */
export async function runChecks(checks: readonly Check[]): Promise<number> {
  const waiting = [...checks];
  let failed = 0;
  const worker = async () => {
    for (let check = waiting.shift(); check; check = waiting.shift()) if (!(await passes(check))) failed++;
  };
  await Promise.all(Array.from({ length: availableParallelism() }, worker));
  return failed;
}

async function passes({ name, command, folder = '.' }: Check): Promise<boolean> {
  const began = Date.now();
  const [program, ...args] = command;
  const child = spawn(program, args, {
    cwd: folder,
    env: { ...process.env, ASTRO_TELEMETRY_DISABLED: '1', npm_config_loglevel: 'error' },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  let printed = '';
  for (const stream of [child.stdout, child.stderr]) stream.on('data', (chunk: Buffer) => (printed += chunk));
  const code = await new Promise<number | null>((resolve) => child.once('close', resolve));
  console.log(`${code === 0 ? '✓' : '✗'} ${name} (${((Date.now() - began) / 1000).toFixed(1)} s)`);
  if (code !== 0) console.log(printed);
  return code === 0;
}
