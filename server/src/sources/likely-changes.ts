import { createHash } from 'node:crypto';
import type { SourcePlace } from '@rough-ember/core/cases/desk-settings';
import { type Scope, wholeScope } from '@rough-ember/core/scope/scope';
import { compareVersions, isSameVersion } from '@rough-ember/core/version/version-order';
import { type App, readDeskSettings } from '@rough-ember/store/apps';
import { type FoundChanges, findKeptChanges, keepChanges } from '@rough-ember/store/likely-changes';
import { loadReportDetail, type ReportDetail } from '@rough-ember/store/reports';
import { listRolloutSteps } from '@rough-ember/store/rollouts';
import type { DeskServices, Services } from '../services.ts';
import { SourceProblem } from './git.ts';
import { type HistoryQuestion, type PlacedFrame, searchHistory } from './search-history.ts';
import { sourceTreeOf } from './source-lines.ts';
import { findSourceFolder } from './source-tree.ts';

/** What the history of the sources says of a case, or why it says nothing; neither where the app names no checkout. */
export interface LikelyChanges {
  readonly found: FoundChanges | null;
  readonly problem: string | null;
}

type ChangeServices = DeskServices & Pick<Services, 'settings'>;

/** Deeper frames say less, and each costs a look at the history. */
const mostFrames = 5;

const nothing = (problem: string | null): LikelyChanges => ({ found: null, problem });

/** Cases whose history is being searched: who asks meanwhile waits for the same answer. */
const searching = new Map<string, Promise<FoundChanges>>();

/**
 * The commits that may have brought a case: of those between the last version without it and the first with it. Kept until the stack, the
 * versions or the settings are others, as when symbols come late.
 */
export async function loadLikelyChanges(services: ChangeServices, app: App, caseId: number): Promise<LikelyChanges> {
  const { database, settings } = services;
  const { sources } = await readDeskSettings(database, app.id);
  const checkouts = sources.filter((one): one is Checkout => one.revision !== null);
  if (checkouts.length === 0 || settings.sourcesFolder === undefined) return nothing(null);
  const about = await versionsOfCase(services, app, caseId);
  if (about === null) return nothing('Nothing was reported of this case yet.');
  const frames = placedFrames(about.detail);
  if (frames.length === 0) return nothing('No frame of ours has a file and a line; a symbol file may be missing.');
  const basis = createHash('sha256')
    .update(JSON.stringify([checkouts, about.first, about.before, about.cameOutAt, [...about.commits], frames]))
    .digest();
  const kept = await findKeptChanges(database, caseId, basis);
  if (kept) return { found: kept, problem: null };
  const name = `${caseId} ${basis.toString('hex')}`;
  try {
    const search =
      searching.get(name) ??
      searchAll(settings.sourcesFolder, checkouts, { ...about, frames }).then(async (found) => {
        await keepChanges(database, caseId, basis, found);
        return found;
      });
    searching.set(name, search);
    return { found: await search, problem: null };
  } catch (error) {
    if (error instanceof SourceProblem) return nothing(error.message);
    throw error;
  } finally {
    searching.delete(name);
  }
}

type Checkout = SourcePlace & { readonly revision: string };

interface CaseInHistory extends Pick<HistoryQuestion, 'frames'> {
  readonly first: string;
  readonly before: string | null;
  readonly cameOutAt: string | null;
  /** The commits of versions whose rollout names one. */
  readonly commits: ReadonlyMap<string, string>;
}

/** Searches one checkout after the other until one holds a file of the case; throws a SourceProblem when none could be searched. */
async function searchAll(root: string, checkouts: readonly Checkout[], about: CaseInHistory): Promise<FoundChanges> {
  let found: FoundChanges | null = null;
  let problem: SourceProblem | null = null;
  for (const checkout of checkouts)
    try {
      const inThis = await searchOne(root, checkout, about);
      if (inThis.path !== null) return inThis;
      found ??= inThis;
    } catch (error) {
      if (!(error instanceof SourceProblem)) throw error;
      problem ??= error;
    }
  if (found) return found;
  throw problem ?? new SourceProblem('No checkout is named.');
}

async function searchOne(root: string, { folder, revision }: Checkout, about: CaseInHistory): Promise<FoundChanges> {
  const { first, before, cameOutAt, commits, frames } = about;
  const revisionOf = (version: string) => commits.get(version) ?? revision.replaceAll('{version}', version);
  const to = { version: first, revision: revisionOf(first), cameOutAt };
  return searchHistory({
    from: before === null ? null : { version: before, revision: revisionOf(before) },
    to,
    frames,
    base: await findSourceFolder(root, folder, first),
    openTree: () => sourceTreeOf(root, { folder, revision: to.revision }, first),
  });
}

/** The first version with a case, the last one without it, and a report of the former; null where it has no report. */
async function versionsOfCase({ database, reports }: ChangeServices, app: App, caseId: number) {
  const now = Date.now();
  const counted = await reports.ask('countCase', app.id, caseId, wholeScope, now);
  if (!counted) return null;
  const [histories, all, steps] = await Promise.all([
    reports.ask('historiesOf', app.id, [caseId], wholeScope, now),
    reports.ask('countVersions', app.id),
    listRolloutSteps(database, app.id),
  ]);
  const own = (histories.get(caseId)?.byVersion ?? []).map((one) => one.version).sort(compareVersions);
  const [first] = own;
  if (first === undefined) return null;
  const before = all
    .map((one) => one.version)
    .filter((version) => compareVersions(version, first) < 0)
    .sort(compareVersions)
    .at(-1);
  const ofFirst: Scope = { ...wholeScope, versions: { match: 'only', version: first } };
  const [row] = await reports.ask('newestReports', app.id, caseId, ofFirst, now, 1);
  const detail = row === undefined ? null : await loadReportDetail(database, row);
  if (!detail?.readable) return null;
  const out = steps.filter((one) => isSameVersion(one.version, first)).map((one) => one.at);
  return {
    first,
    before: before ?? null,
    detail,
    cameOutAt: out.sort()[0] ?? null,
    commits: new Map(steps.filter((one) => one.commit !== '').map((one) => [one.version, one.commit])),
  };
}

/**
 * Our own frames with a file and a line, each function once: those of the deciding exception from the culprit on, then the others. What stands before the
 * culprit is a helper that it called.
 */
function placedFrames({ readable, explanation }: ReportDetail): PlacedFrame[] {
  const { exceptions = [], threads = [] } = readable ?? {};
  const deciding = explanation?.exception ?? null;
  const culprit = explanation?.kept[0]?.frame ?? 0;
  const stack = deciding === null ? [] : (exceptions[deciding]?.frames ?? []);
  const rest = exceptions.filter((_, at) => at !== deciding).map(({ frames }) => frames);
  const known = new Set<string>();
  return [stack.slice(culprit), ...rest, ...threads.map(({ frames }) => frames), stack.slice(0, culprit)]
    .flat()
    .flatMap(({ ours, function: named, file, line }): PlacedFrame[] => {
      if (!ours || file === null || line === null || known.has(named)) return [];
      known.add(named);
      return [{ function: named, file, line }];
    })
    .slice(0, mostFrames);
}
