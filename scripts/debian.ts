import { spawnSync } from 'node:child_process';
import { accessSync, constants } from 'node:fs';

/** A problem of the machine or the settings that a person must solve; the message is one sentence. */
export class StartProblem extends Error {}

/** A program that can be run, or a library that can be read. */
const isThere = (path: string): boolean => {
  try {
    accessSync(path, path.endsWith('.so') ? constants.R_OK : constants.X_OK);
    return true;
  } catch {
    return false;
  }
};

interface Program {
  readonly name: string;
  /** Everything it needs; the first is what is run. */
  readonly paths: readonly [string, ...string[]];
  readonly debianPackages: readonly string[];
}

export const mariadb: Program = {
  name: 'MariaDB',
  // The packages without a system service, which must stay untouched; the installer calls the third program.
  paths: ['/usr/sbin/mariadbd', '/usr/bin/mariadb-install-db', '/usr/bin/my_print_defaults'],
  debianPackages: ['mariadb-server-core', 'mariadb-client-core'],
};

/** Writes the database into a backup. */
export const mariadbClient: Program = {
  name: 'the MariaDB client',
  paths: ['/usr/bin/mariadb-dump', '/usr/bin/mariadb'],
  debianPackages: ['mariadb-client'],
};

/** Makes a cluster of MariaDB in a test. */
export const galera: Program = {
  name: 'Galera',
  paths: ['/usr/lib/galera/libgalera_smm.so'],
  debianPackages: ['galera-4'],
};

/** Runs the demo's program with the Java reporter in a test. */
export const java: Program = { name: 'Java', paths: ['/usr/bin/java'], debianPackages: ['default-jre-headless'] };

/** Runs the examples of the documentation in a test. */
export const curl: Program = { name: 'curl', paths: ['/usr/bin/curl'], debianPackages: ['curl'] };

/** Builds the native client and programs that crash in tests. */
export const compilers: Program = { name: 'C and C++', paths: ['/usr/bin/gcc', '/usr/bin/g++'], debianPackages: ['gcc', 'g++'] };

/** Builds a large library for the benchmark, and is its yardstick. */
export const compilerSuite: Program = {
  name: 'the compiler suite',
  paths: ['/usr/bin/clang++-19', '/usr/bin/ld.lld-19', '/usr/bin/llvm-symbolizer-19'],
  debianPackages: ['clang-19', 'lld-19', 'llvm-19', 'libstdc++-12-dev'],
};

export const chromium: Program = { name: 'Chromium', paths: ['/usr/bin/chromium'], debianPackages: ['chromium'] };

/** Makes sure that a program is there, installing its Debian packages when it is not; gives its path. */
export function requireProgram({ name, paths, debianPackages }: Program): string {
  if (paths.every(isThere)) return paths[0];
  const packages = debianPackages.join(' ');
  console.log(`Installing ${name} from Debian's packages (${packages}) …`);
  const asRoot = process.getuid?.() === 0 ? [] : ['sudo', '-n'];
  const run = (...command: string[]) => {
    const [first, ...rest] = [...asRoot, 'env', 'DEBIAN_FRONTEND=noninteractive', ...command];
    return spawnSync(first as string, rest, { stdio: ['ignore', 'ignore', 'pipe'], encoding: 'utf8' });
  };
  run('apt-get', 'update', '-qq');
  const installed = run('apt-get', 'install', '-y', '-qq', '--no-install-recommends', ...debianPackages);
  if (paths.every(isThere)) return paths[0];
  const reason = (installed.error?.message ?? installed.stderr ?? '').trim().split('\n').at(-1);
  throw new StartProblem(
    `${name} is not installed and could not be installed (${reason || 'no reason given'}); as root, run: apt-get install ${packages}`,
  );
}
