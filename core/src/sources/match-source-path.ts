/** What a frame says of where its source lies. */
export interface SourcePlace {
  /** As the symbol file names it: `Tiles.kt`, `src/song.cpp`, `/builds/guide/src/song.cpp`, `package:trails/map.dart`. */
  readonly file: string;
  /** Qualified name, whose package tells the folder where the file is named without one. */
  readonly function: string;
}

/** The file that a frame means; `several` when the paths do not decide between files of one name. */
export type MatchedSource = { readonly path: string } | 'none' | 'several';

/**
 * Finds the file of a frame among the paths of a source tree (relative, with `/`). Builds name files by paths of other machines,
 * so that the path with most folders in common, counted from the file upwards, is the one that is meant.
 */
export function matchSourcePath(paths: readonly string[], { file, function: named }: SourcePlace): MatchedSource {
  const wanted = foldersOf(file);
  const name = wanted.at(-1);
  if (name === undefined) return 'none';
  const hints = wanted.length > 1 ? [wanted] : [[...packageOf(named), name], wanted];
  const candidates = paths.filter((path) => path === name || path.endsWith(`/${name}`));
  for (const hint of hints) {
    const ranked = candidates.map((path) => ({ path, common: commonEnd(path.split('/'), hint) })).sort((a, b) => b.common - a.common);
    const [best, next] = ranked;
    if (!best) return 'none';
    if (!next || best.common > next.common) return { path: best.path };
  }
  return 'several';
}

/** The parts of a path, without the scheme of a bundler or package, drive letters and steps that lead nowhere. */
const foldersOf = (file: string): string[] =>
  file
    .replace(/^[a-z][a-z0-9+.-]*:(?:\/\/\/?)?/i, '')
    .split(/[\\/]/)
    .filter((part) => part !== '' && part !== '.' && part !== '..');

/** The folders that a package stands for: what comes before the class, whose name begins with a capital. */
function packageOf(named: string): string[] {
  const parts = named.split('.');
  const type = parts.findIndex((part) => /^[A-Z]/.test(part));
  return type <= 0 ? [] : parts.slice(0, type);
}

function commonEnd(path: readonly string[], wanted: readonly string[]): number {
  let common = 0;
  while (common < path.length && common < wanted.length && path.at(-1 - common) === wanted.at(-1 - common)) common++;
  return common;
}
