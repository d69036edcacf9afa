import { matchSourcePath } from '@rough-ember/core/sources/match-source-path';
import { type App, readDeskSettings } from '@rough-ember/store/apps';
import { z } from 'zod';
import type { Services } from '../services.ts';
import { SourceProblem } from './git.ts';
import { openSourceTree, type SourceLocation, type SourceTree } from './source-tree.ts';

/** The place of a frame, as the address asks for it. */
export const sourcePlaceSchema = z.object({
  file: z.string().min(1).max(1_000),
  function: z.string().max(2_000).default(''),
  line: z.coerce.number().int().min(1).max(10_000_000),
  version: z.string().min(1).max(100),
});
export type SourceQuery = z.infer<typeof sourcePlaceSchema>;

/** Lines around a place in the sources. */
export interface SourceLines {
  readonly path: string;
  readonly firstLine: number;
  readonly lines: readonly string[];
}

/** A frame without a source is nothing wrong: most are of other people's code. */
export interface SourceAnswer {
  readonly found: SourceLines | null;
  readonly problem: string | null;
}

const linesAround = 4;
const longestLine = 300;
const keptTrees = 12;
const keptMs = 60_000;

interface KeptTree {
  readonly openedAt: number;
  readonly tree: Promise<SourceTree>;
}

/** Lists of files that were read a moment ago: one stack asks for many places of one version. */
const trees = new Map<string, KeptTree>();

/** The sources of a version, kept for a moment. */
export function sourceTreeOf(root: string, location: SourceLocation, version: string): Promise<SourceTree> {
  const name = JSON.stringify([root, location, version]);
  const known = trees.get(name);
  if (known && Date.now() - known.openedAt < keptMs) return known.tree;
  const tree = openSourceTree(root, location, version);
  trees.delete(name);
  trees.set(name, { openedAt: Date.now(), tree });
  // A folder that was not there may be there at the next look.
  tree.catch(() => trees.delete(name));
  const [oldest] = trees.keys();
  if (trees.size > keptTrees) trees.delete(oldest as string);
  return tree;
}

/** The lines of source around a frame, from the folders and checkouts that the app names; or in a sentence why there are none. */
export async function readSourceLines(
  { database, settings }: Pick<Services, 'database' | 'settings'>,
  app: App,
  { file, function: named, line, version }: SourceQuery,
): Promise<SourceAnswer> {
  const { sources } = await readDeskSettings(database, app.id);
  if (sources.length === 0) return none(`${app.name} names no source folder; its desk settings can.`);
  if (settings.sourcesFolder === undefined) return none('The server has no source folder: EMBER_SOURCES_DIR is not set.');
  let answer = none('');
  // The first place that holds the file has it; of the others the last says what is missing.
  for (const place of sources) {
    answer = await linesIn(settings.sourcesFolder, place, { file, function: named, line, version });
    if (answer.found) break;
  }
  return answer;
}

async function linesIn(root: string, place: SourceLocation, { file, function: named, line, version }: SourceQuery): Promise<SourceAnswer> {
  try {
    const tree = await sourceTreeOf(root, place, version);
    const found = matchSourcePath(tree.paths, { file, function: named });
    if (found === 'none') return none(`The sources of ${version} hold no file ${file}.`);
    if (found === 'several') return none(`The sources of ${version} hold several files of the name ${file}.`);
    const all = (await tree.read(found.path)).split(/\r?\n/);
    if (line > all.length) return none(`${found.path} has ${all.length} lines: it is not the file that was built.`);
    const firstLine = Math.max(1, line - linesAround);
    const lines = all.slice(firstLine - 1, line + linesAround).map((text) => text.slice(0, longestLine));
    return { found: { path: found.path, firstLine, lines }, problem: null };
  } catch (error) {
    if (error instanceof SourceProblem) return none(error.message);
    throw error;
  }
}

const none = (problem: string): SourceAnswer => ({ found: null, problem });
