// The one entry of `npm start`, `npm test` and the other commands. Plain JavaScript that needs nothing but Node: it
// installs the packages of the lock file when they are missing or changed, then hands over to scripts/<command>.ts.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { basename } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = fileURLToPath(new URL('..', import.meta.url));
process.chdir(root);

const [major = 0, minor = 0] = process.versions.node.split('.').map(Number);
if (major < 20 || (major === 20 && minor < 19)) {
  console.error(`Node ${process.versions.node} is too old: install Node 20.19 or newer.`);
  process.exit(1);
}

const stamp = 'node_modules/.installed-from';
const lock = createHash('sha256').update(readFileSync('package-lock.json')).digest('hex');
if (!existsSync(stamp) || readFileSync(stamp, 'utf8') !== lock) {
  console.log('Installing the npm packages of the lock file (about a minute) …');
  const installed = spawnSync('npm', ['ci', '--include=dev', '--no-audit', '--no-fund', '--loglevel=error'], {
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  if (installed.status !== 0) {
    console.error('The npm packages could not be installed; "npm ci" says why above.');
    process.exit(1);
  }
  writeFileSync(stamp, lock);
}

const { buildProgram, commands } = await import('./build/program.mjs');
const { holdBuild } = await import('./build/build-of.mjs');
const command = process.argv[2];
// What people run comes from the build; what developers run beside it is compiled as it is loaded.
const program = await buildProgram();
holdBuild(program);
const isBuilt = commands.includes(command);
if (!isBuilt) (await import('tsx/esm/api')).register();
const { main } = await import(isBuilt ? `${program}/${command}.mjs` : `./${command}.ts`);
const { buildPages } = await import('./build/pages.mjs');
const { buildPackages } = await import('./build/packages.mjs');
// Whatever still waits for something at this point must not keep a stopped server alive.
process.exit(await main(process.argv.slice(3), { program: basename(program), buildPages, buildPackages }));
