import { readFileSync, writeFileSync } from 'node:fs';

interface LockEntry {
  version?: string;
  optional?: boolean;
  dev?: boolean;
  os?: string[];
  cpu?: string[];
  libc?: string[];
  optionalDependencies?: Record<string, string>;
}

const systems = ['android', 'darwin', 'freebsd', 'linux', 'openbsd', 'openharmony', 'win32'];

/**
 * Adds the optional packages of other platforms that npm left out of the lock file. A registry that does not carry a
 * platform's package makes `npm install` drop it silently, and `npm ci` then refuses the lock that npm itself wrote.
 */
export async function main(): Promise<number> {
  const lock = JSON.parse(readFileSync('package-lock.json', 'utf8')) as { packages: Record<string, LockEntry> };
  let added = 0;
  for (const [place, entry] of Object.entries(lock.packages)) {
    for (const [name, version] of Object.entries(entry.optionalDependencies ?? {})) {
      if (isResolved(lock.packages, place, name) || !/^\d/.test(version)) continue;
      const words = (name.split('/').at(-1) as string).split('-');
      const system = words.findIndex((word) => systems.includes(word));
      if (system < 0) continue;
      lock.packages[`node_modules/${name}`] = {
        version,
        cpu: [words[system + 1] ?? 'x64'],
        ...(entry.dev ? { dev: true } : {}),
        ...(words.includes('musl') || words.includes('musleabihf') ? { libc: ['musl'] } : {}),
        optional: true,
        os: [words[system] as string],
      };
      added++;
    }
  }
  lock.packages = Object.fromEntries(Object.entries(lock.packages).sort(([a], [b]) => (a < b ? -1 : 1)));
  writeFileSync('package-lock.json', `${JSON.stringify(lock, null, 2)}\n`);
  console.log(`${added} entries added`);
  return 0;
}

/** Node's own resolution: beside the package, then in each folder above it. */
function isResolved(packages: Record<string, LockEntry>, place: string, name: string): boolean {
  for (let at = place; ; at = at.includes('/node_modules/') ? at.slice(0, at.lastIndexOf('/node_modules/')) : '') {
    if (`${at === '' ? '' : `${at}/`}node_modules/${name}` in packages) return true;
    if (at === '') return false;
  }
}
