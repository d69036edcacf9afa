import { existsSync } from 'node:fs';
import { readdir, readFile, realpath, stat } from 'node:fs/promises';
import { join, relative, resolve, sep } from 'node:path';
import { checkRevision, git, SourceProblem } from './git.ts';

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

const mostFiles = 100_000;
const largestFile = 4 * 1024 * 1024;
const skippedFolders = new Set(['.git', 'node_modules', '.gradle', 'Pods', '.dart_tool']);

/** Opens the sources of a version. Nothing outside the root is read, whatever folder is named and wherever links lead. */
export async function openSourceTree(root: string, { folder, revision }: SourceLocation, version: string): Promise<SourceTree> {
  const base = await findSourceFolder(root, folder, version);
  return revision === null ? folderTree(base) : gitTree(base, revision.replaceAll('{version}', version));
}

/** The folder of a version's sources on the disk. Nothing outside the root is found, whatever is named and wherever links lead. */
export async function findSourceFolder(root: string, folder: string, version: string): Promise<string> {
  const named = folder.replaceAll('{version}', version);
  const wanted = resolve(root, named);
  if (!isInside(resolve(root), wanted)) throw new SourceProblem(`The source folder "${named}" lies outside of EMBER_SOURCES_DIR.`);
  if (!existsSync(wanted)) throw new SourceProblem(`There is no folder "${named}" under EMBER_SOURCES_DIR on the server.`);
  const base = await realpath(wanted);
  if (!isInside(await realpath(root), base)) throw new SourceProblem(`The source folder "${named}" leads out of EMBER_SOURCES_DIR.`);
  return base;
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
  checkRevision(revision);
  const listed = await git(base, ['ls-tree', '-r', '-z', '--name-only', '--full-tree', revision]);
  const paths = listed.split('\0').filter((path) => path !== '');
  if (paths.length > mostFiles) throw new SourceProblem(`The checkout holds more than ${mostFiles} files.`);
  return { paths, read: (path) => git(base, ['cat-file', 'blob', `${revision}:${path}`]) };
}
