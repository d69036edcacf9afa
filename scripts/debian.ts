import { spawnSync } from 'node:child_process';
import { accessSync, constants } from 'node:fs';

/** A problem of the machine or the settings that a person must solve; the message is one sentence. */
export class StartProblem extends Error {}

const isExecutable = (path: string): boolean => {
  try {
    accessSync(path, constants.X_OK);
    return true;
  } catch {
    return false;
  }
};

/** Makes sure that a program is there, installing its Debian package when it is not; gives its path. */
export function requireProgram(program: { name: string; path: string; debianPackage: string }): string {
  if (isExecutable(program.path)) return program.path;
  console.log(`Installing ${program.name} from Debian's package ${program.debianPackage} …`);
  const asRoot = process.getuid?.() === 0 ? [] : ['sudo', '-n'];
  const run = (...command: string[]) => {
    const [first, ...rest] = [...asRoot, 'env', 'DEBIAN_FRONTEND=noninteractive', ...command];
    return spawnSync(first as string, rest, { stdio: ['ignore', 'ignore', 'pipe'], encoding: 'utf8' });
  };
  run('apt-get', 'update', '-qq');
  const installed = run('apt-get', 'install', '-y', '-qq', '--no-install-recommends', program.debianPackage);
  if (isExecutable(program.path)) return program.path;
  const reason = (installed.error?.message ?? installed.stderr ?? '').trim().split('\n').at(-1);
  throw new StartProblem(
    `${program.name} is not installed and could not be installed (${reason || 'no reason given'}); as root, run: apt-get install ${program.debianPackage}`,
  );
}
