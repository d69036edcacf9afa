import { ownersOf, ownersPaths, parseOwners } from '@rough-ember/core/changes/code-owners';
import { type Commit, commitFormat, parseCommits } from '@rough-ember/core/changes/commit-log';
import { functionRange } from '@rough-ember/core/changes/function-range';
import { type FrameChanges, rankChanges } from '@rough-ember/core/changes/rank-changes';
import { matchSourcePath } from '@rough-ember/core/sources/match-source-path';
import type { FoundChanges } from '@rough-ember/store/likely-changes';
import { checkRevision, git, SourceProblem } from './git.ts';
import type { SourceTree } from './source-tree.ts';

/** A frame of ours as its readable stack has it. */
export interface PlacedFrame {
  readonly function: string;
  readonly file: string;
  readonly line: number;
}

export interface HistoryQuestion {
  /** The folder of the checkout. */
  readonly base: string;
  /** Opens the sources of the first version with the case. */
  readonly openTree: () => Promise<SourceTree>;
  readonly from: { readonly version: string; readonly revision: string } | null;
  readonly to: { readonly version: string; readonly revision: string; readonly cameOutAt: string | null };
  /** The culprit first. */
  readonly frames: readonly PlacedFrame[];
}

/** More commits between two versions are not looked through. */
const mostCommits = 5_000;

/** Which commits between two versions may have brought a case, by git alone. Throws a SourceProblem. */
export async function searchHistory({ base, openTree, from, to, frames }: HistoryQuestion): Promise<FoundChanges> {
  const newer = await commitOf(base, to.revision);
  const older = from === null ? null : await commitOf(base, from.revision);
  const range = older === null ? null : `${older}..${newer}`;
  const commits = range === null ? [] : await commitsOf(base, range);
  const tree = await openTree();
  const searched: (FrameChanges & { readonly line: number })[] = [];
  for (const frame of frames) {
    const path = matchSourcePath(tree.paths, frame);
    if (path === 'none' || path === 'several') continue;
    const known = await changesOfFrame(base, { tree, path: path.path, frame, range: commits.length === 0 ? null : range, newer });
    searched.push({ ...known, depth: searched.length, function: shortName(frame.function), path: path.path, line: frame.line });
  }
  const [culprit] = searched;
  return {
    from: from?.version ?? null,
    to: to.version,
    commits: commits.length,
    changes: rankChanges(commits, searched, to),
    lastChange: culprit?.changedLine ? await oneCommit(base, culprit.changedLine) : null,
    path: culprit?.path ?? null,
    owners: culprit ? await ownersIn(tree, culprit.path) : [],
  };
}

const shortName = (qualified: string): string => qualified.split('.').slice(-2).join('.');

/** The hash of a revision; a name that git does not know is told with what to do. */
async function commitOf(base: string, revision: string): Promise<string> {
  checkRevision(revision);
  try {
    return (await git(base, ['rev-parse', '--verify', '--quiet', `${revision}^{commit}`])).trim();
  } catch (error) {
    if (!(error instanceof SourceProblem)) throw error;
    throw new SourceProblem(`The checkout has no commit "${revision}"; fetch its tags, or name the commit when the rollout is recorded.`);
  }
}

const commitsOf = async (base: string, range: string): Promise<Commit[]> =>
  parseCommits(
    await git(base, ['log', '-z', '--no-merges', '--name-only', `--max-count=${mostCommits}`, `--format=${commitFormat}`, range, '--']),
  );

async function oneCommit(base: string, hash: string): Promise<FoundChanges['lastChange']> {
  const [found] = parseCommits(await git(base, ['log', '-z', '--max-count=1', `--format=${commitFormat}`, hash, '--']));
  if (!found) return null;
  const { paths: _paths, ...commit } = found;
  return commit;
}

/** Which commits of a range changed the function of a frame, and which one its very line last. A file of another text says nothing. */
async function changesOfFrame(
  base: string,
  about: {
    readonly tree: SourceTree;
    readonly path: string;
    readonly frame: PlacedFrame;
    readonly range: string | null;
    readonly newer: string;
  },
): Promise<Pick<FrameChanges, 'changedFunction' | 'changedLine'>> {
  const { tree, path, frame, range, newer } = about;
  const text = await tree.read(path);
  if (frame.line > text.split('\n').length) return { changedFunction: [], changedLine: null };
  const lines = functionRange(text, frame.function, frame.line) ?? { first: frame.line, last: frame.line };
  const blamed = await git(base, ['blame', '--porcelain', '-w', '-L', `${frame.line},${frame.line}`, newer, '--', path]);
  const changedLine = /^([0-9a-f]{40,64}) /.exec(blamed)?.[1] ?? null;
  if (range === null) return { changedFunction: [], changedLine };
  // The history of lines holds those that were taken out, too, which nobody is blamed for.
  const traced = await git(base, ['log', '--no-patch', '--format=%H', `-L${lines.first},${lines.last}:${path}`, range]);
  return { changedFunction: traced.split('\n').filter((one) => /^[0-9a-f]{40,64}$/.test(one)), changedLine };
}

async function ownersIn(tree: SourceTree, path: string): Promise<readonly string[]> {
  const file = ownersPaths.find((one) => tree.paths.includes(one));
  return file === undefined ? [] : ownersOf(parseOwners(await tree.read(file)), path);
}
