// Builds what runs from what is written, unless a build of the same sources is there: the server with its threads and the
// commands under dist/, the pages under web/dist/. Each build has a folder of its own, named after its sources: what is running
// goes on from its own, whatever is built meanwhile. Plain JavaScript, so that a start compiles nothing when nothing changed.
import { createHash } from 'node:crypto';
import {
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  readlinkSync,
  renameSync,
  rmSync,
  statSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { join, relative } from 'node:path';
import { fileURLToPath } from 'node:url';

/** The checkout. */
export const root = fileURLToPath(new URL('../..', import.meta.url));

/** What could not be built, and why. */
export class BuildProblem extends Error {
  name = 'BuildProblem';
}

const isSource = (path) => !/\.test\.tsx?$|\/testing\//.test(path);

function filesIn(folder) {
  return readdirSync(folder, { withFileTypes: true, recursive: true })
    .filter((entry) => entry.isFile())
    .map((entry) => join(entry.parentPath, entry.name))
    .filter(isSource)
    .sort();
}

/** All files of some folders and files. */
const filesOf = (places) =>
  places.map((place) => join(root, place)).flatMap((place) => (statSync(place).isFile() ? [place] : filesIn(place)));

/** Names the state of files by what is in them. */
function stampOf(files) {
  const hash = createHash('sha256');
  for (const file of files)
    hash
      .update(`${relative(root, file)}\0`)
      .update(readFileSync(file))
      .update('\0');
  return hash.digest('hex').slice(0, 16);
}

/** Tells whether anybody touched files since, without reading them. */
function traceOf(files) {
  const hash = createHash('sha256');
  for (const file of files) {
    const { size, mtimeMs, ino } = statSync(file);
    hash.update(`${file} ${size} ${mtimeMs} ${ino}\n`);
  }
  return hash.digest('hex');
}

/** The sources of some of our own packages. */
export const ours = (...names) => names.flatMap((name) => [`${name}/src`, `${name}/package.json`]);
const always = ['package-lock.json', 'tsconfig.base.json', 'scripts/build'];

/** Builds of before that stay, beside those that run. */
const keptBuilds = 4;
const useMark = 'used-by-';

/** Marks a build as used by this process, so that it stays as long as the process runs: threads and pages are loaded late. */
export const holdBuild = (folder) => writeFileSync(join(folder, `${useMark}${process.pid}`), '');

const isInUse = (folder) =>
  readdirSync(folder)
    .filter((name) => name.startsWith(useMark))
    .some((name) => {
      try {
        return process.kill(Number(name.slice(useMark.length)), 0);
      } catch (error) {
        return error.code === 'EPERM';
      }
    });

/**
 * Runs a build unless that of the same sources is there, and points `current` at it. Gives the path of its folder, which is named
 * after the sources.
 */
export async function buildOf(place, sources, build) {
  const parent = join(root, place);
  const files = filesOf([...always, ...sources]);
  const trace = traceOf(files);
  const lastSeen = join(parent, 'last-seen');
  const [seenTrace, seenName = ''] = existsSync(lastSeen) ? readFileSync(lastSeen, 'utf8').split(' ') : [];
  if (seenTrace === trace && existsSync(join(parent, seenName))) return join(parent, seenName);

  const name = stampOf(files);
  const folder = join(parent, name);
  if (!existsSync(folder)) {
    // Under another name until it is whole; two that build the same at once make the same.
    const growing = join(parent, `growing-${process.pid}`);
    rmSync(growing, { recursive: true, force: true });
    mkdirSync(growing, { recursive: true });
    await build(growing);
    if (!existsSync(folder)) renameSync(growing, folder);
    const dated = readdirSync(parent)
      .filter((one) => /^[0-9a-f]{16}$/.test(one))
      .map((one) => [one, statSync(join(parent, one)).mtimeMs]);
    const old = dated.sort(([, a], [, b]) => b - a).slice(keptBuilds);
    for (const folder of old.map(([one]) => join(parent, one))) if (!isInUse(folder)) rmSync(folder, { recursive: true, force: true });
  }
  const current = join(parent, 'current');
  if (!existsSync(current) || readlinkSync(current) !== name) {
    symlinkSync(name, `${current}-${process.pid}`);
    renameSync(`${current}-${process.pid}`, current);
  }
  writeFileSync(lastSeen, `${trace} ${name}`);
  return folder;
}

/** What esbuild is told for everything that runs in Node. */
export const nodeBuild = {
  absWorkingDir: root,
  bundle: true,
  platform: 'node',
  target: 'node20',
  format: 'esm',
  sourcemap: true,
  logLevel: 'error',
};
