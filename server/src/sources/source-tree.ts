import { execFile } from 'node:child_process';
import { existsSync } from 'node:fs';
import { readdir, readFile, realpath, stat } from 'node:fs/promises';
import { dirname, join, relative, resolve, sep } from 'node:path';
import { promisify } from 'node:util';

/** The sources of one version: their paths (relative, with `/`), and the text of each. */
export interface SourceTree {
  readonly paths: readonly string[];
  read(path: string): Promise<string>;
}

/** Where an app keeps its sources: a folder under the root that the operator named, and for a git checkout the revision. */
export interface SourceLocation {
  /** `guide`, or `guide/{version}` where each version has a folder of its own. */
  readonly folder: string;
  /** `v{version}`: a tag, branch or commit; null reads what lies in the folder. */
  readonly revision: string | null;
}

/** Why sources cannot be read; the message says what to do. */
export class SourceProblem extends Error {}

const mostFiles = 100_000;
const largestFile = 4 * 1024 * 1024;
const gitMs = 10_000;
const skippedFolders = new Set(['.git', 'node_modules', '.gradle', 'Pods', '.dart_tool']);

/** Opens the sources of a version. Nothing outside the root is read, whatever folder is named and wherever links lead. */
export async function openSourceTree(root: string, { folder, revision }: SourceLocation, version: string): Promise<SourceTree> {
  const named = folder.replaceAll('{version}', version);
  const wanted = resolve(root, named);
  if (!isInside(resolve(root), wanted)) throw new SourceProblem(`The source folder "${named}" lies outside of EMBER_SOURCES_DIR.`);
  if (!existsSync(wanted)) throw new SourceProblem(`There is no folder "${named}" under EMBER_SOURCES_DIR on the server.`);
  const base = await realpath(wanted);
  if (!isInside(await realpath(root), base)) throw new SourceProblem(`The source folder "${named}" leads out of EMBER_SOURCES_DIR.`);
  return revision === null ? folderTree(base) : gitTree(base, revision.replaceAll('{version}', version));
}

const isInside = (root: string, path: string): boolean => {
  const way = relative(root, path);
  return way === '' || (way !== '..' && !way.startsWith(`..${sep}`) && !way.startsWith(sep));
};

async function folderTree(base: string): Promise<SourceTree> {
  const paths: string[] = [];
  const waiting = [''];
  for (let folder = waiting.pop(); folder !== undefined; folder = waiting.pop()) {
    for (const entry of await readdir(join(base, folder), { withFileTypes: true })) {
      const path = folder === '' ? entry.name : `${folder}/${entry.name}`;
      // Links are left out, so that the walk ends and stays inside.
      if (entry.isDirectory() && !skippedFolders.has(entry.name)) waiting.push(path);
      else if (entry.isFile()) paths.push(path);
      if (paths.length > mostFiles) throw new SourceProblem(`The source folder holds more than ${mostFiles} files; name a smaller one.`);
    }
  }
  return {
    paths,
    read: async (path) => {
      const { size } = await stat(join(base, path));
      if (size > largestFile) throw new SourceProblem(`${path} is larger than ${largestFile} bytes.`);
      return readFile(join(base, path), 'utf8');
    },
  };
}

async function gitTree(base: string, revision: string): Promise<SourceTree> {
  // What begins with a dash would be read as an option.
  if (!/^[A-Za-z0-9_][\w./+-]*$/.test(revision)) throw new SourceProblem(`"${revision}" is no name of a revision.`);
  const listed = await git(base, ['ls-tree', '-r', '-z', '--name-only', '--full-tree', revision]);
  const paths = listed.split('\0').filter((path) => path !== '');
  if (paths.length > mostFiles) throw new SourceProblem(`The checkout holds more than ${mostFiles} files.`);
  return { paths, read: (path) => git(base, ['cat-file', 'blob', `${revision}:${path}`]) };
}

const run = promisify(execFile);

/** Nothing that a checkout's own configuration names is run. */
const harmless = [
  'core.fsmonitor=false',
  'core.hooksPath=/dev/null',
  'core.pager=cat',
  'protocol.allow=never',
  'uploadpack.packObjectsHook=',
].flatMap((setting) => ['-c', setting]);

/** No configuration of the machine or of a person is read, nothing is fetched, nobody is asked, and no repository above is found. */
const gitEnvironment = {
  GIT_CONFIG_NOSYSTEM: '1',
  GIT_CONFIG_GLOBAL: '/dev/null',
  GIT_TERMINAL_PROMPT: '0',
  GIT_OPTIONAL_LOCKS: '0',
  GIT_NO_REPLACE_OBJECTS: '1',
  GIT_ALLOW_PROTOCOL: 'none',
  LC_ALL: 'C',
} as const;

async function git(base: string, parameters: readonly string[]): Promise<string> {
  try {
    const { stdout } = await run('git', ['-c', `safe.directory=${base}`, ...harmless, '-C', base, ...parameters], {
      env: { PATH: process.env.PATH, ...gitEnvironment, GIT_CEILING_DIRECTORIES: dirname(base) },
      timeout: gitMs,
      maxBuffer: 64 * 1024 * 1024,
    });
    return stdout;
  } catch (error) {
    const { code, stderr } = error as { code?: string | number; stderr?: string };
    if (code === 'ENOENT')
      throw new SourceProblem('The program "git" is not installed on the server, and the source folder is a checkout.');
    throw new SourceProblem(
      `git could not read the checkout: ${String(stderr ?? error)
        .trim()
        .split('\n')[0]
        ?.slice(0, 200)}`,
    );
  }
}
