import { wordChange } from '@rough-ember/core/changes/word-change';
import { type RolloutStatus, type RolloutStep, rolloutStatus } from '@rough-ember/core/rollouts/rollouts';
import { defaultScope, type Scope } from '@rough-ember/core/scope/scope';
import type { DaySpan } from '@rough-ember/core/session-index/session-rows';
import { type Counts, noCounts } from '@rough-ember/core/session-index/tally';
import { spanOf } from '@rough-ember/core/session-index/window';
import { checkRollout, type RolloutCheck, type RolloutEvidence } from '@rough-ember/core/stability/rollout-check';
import type { Estimate } from '@rough-ember/core/stability/share';
import { type FirstUses, freeInFirstUses } from '@rough-ember/core/stability/survival';
import { cameOutOn, type VersionComparison } from '@rough-ember/core/stability/version-comparison';
import { distinctVersions, isSameVersion } from '@rough-ember/core/version/version-order';
import type { App } from '@rough-ember/store/apps';
import { listReturns } from '@rough-ember/store/case-events';
import { loadCaseHeads } from '@rough-ember/store/cases';
import { listKeptChanges } from '@rough-ember/store/likely-changes';
import { listRolloutSteps } from '@rough-ember/store/rollouts';
import { listSymbolDemand, type SymbolDemand } from '@rough-ember/store/symbol-files';
import { ApiError } from '../errors.ts';
import type { DeskServices } from '../services.ts';
import { type ComparedAs, compareNewest, compareVersion, loadVersionHistory, longestComparedDays } from '../stability/compare-version.ts';
import { loadStabilitySettings, type StabilitySettings } from '../stability/settings.ts';

/** A case as the pages of versions name it. */
export interface NamedCase {
  readonly ref: string;
  readonly what: string;
  readonly where: string;
  readonly people: number;
  /** The change that may have brought it, in a line, where one has been looked for. */
  readonly likelyChange: string | null;
}

/** A symbol file that a version lacks. */
export type MissingFile = Pick<SymbolDemand, 'kind' | 'name' | 'symbolId' | 'build' | 'reports'>;

/** Everything that is known of a version. */
export interface VersionItem {
  readonly version: string;
  readonly steps: readonly RolloutStep[];
  readonly rollout: RolloutStatus;
  readonly counts: Counts;
  /** Its part of the sessions and persons of the window. */
  readonly shareOfSessions: number;
  readonly shareOfPersons: number;
  /** Its part of each day's people, from the first day of the window. */
  readonly adoption: readonly number[];
  /** Against the version that it is compared with; null for the first one. */
  readonly comparison: VersionComparison | null;
  readonly began: readonly NamedCase[];
  readonly ended: number;
  readonly returned: readonly NamedCase[];
  readonly missing: readonly MissingFile[];
}

export interface VersionList {
  readonly days: number;
  /** Oldest first. */
  readonly versions: readonly VersionItem[];
  readonly settings: StabilitySettings;
  readonly now: string;
}

const fatal = ['crash', 'hang', 'kill'] as const;
const windowDays = 30;
const shownCases = 8;
const everyVersion = 500;

/** All versions of an app over the last 30 days of its released builds: how far they are out, how they do, and what they changed. */
export async function loadVersionList(services: DeskServices, app: App, now: Date): Promise<VersionList> {
  const scope: Scope = { ...defaultScope, days: windowDays };
  const span = spanOf(scope, now.getTime());
  const versionField = { field: 'version', key: '' } as const;
  const [daily, cases, steps, demand, returns, settings, history] = await Promise.all([
    services.sessions.ask('dailySessions', app.id, scope, span, versionField, { most: everyVersion }),
    services.reports.ask('casesOfVersions', app.id, fatal, { most: shownCases }),
    listRolloutSteps(services.database, app.id),
    listSymbolDemand(services.database, app.id),
    listReturns(services.database, app.id),
    loadStabilitySettings(services, app),
    loadVersionHistory(services, app, now),
  ]);
  const names = distinctVersions([...daily.values, ...cases.map((one) => one.version), ...steps.map((one) => one.version)]);
  const ids = [...cases.flatMap((one) => one.began.map((began) => began.caseId)), ...returns.map((one) => one.caseId)];
  const [headList, changes] = await Promise.all([loadCaseHeads(services.database, ids), listKeptChanges(services.database, ids)]);
  const heads = new Map(headList.map((head) => [head.id, head]));
  const named = (caseId: number, people: number): NamedCase[] => {
    const head = heads.get(caseId);
    if (!head) return [];
    const [change] = changes.get(caseId)?.changes ?? [];
    const likelyChange = change ? wordChange(change) : null;
    return [{ ref: `${app.prefix}-${head.number}`, what: head.what, where: head.where, people, likelyChange }];
  };
  // A version that nobody used in the window is not compared any more.
  const comparisons = await compareNewest(services, app, daily.values, { history });
  const versions = names.map((version, place): VersionItem => {
    const at = daily.values.findIndex((one) => isSameVersion(one, version));
    const counts = daily.sums[at] ?? noCounts;
    const ofVersion = cases.find((one) => isSameVersion(one.version, version));
    const own = steps.filter((one) => isSameVersion(one.version, version));
    const ofDays = daily.days[at];
    return {
      version,
      steps: own,
      rollout: rolloutStatus(own),
      counts,
      shareOfSessions: shareOf(counts.sessions, daily.total.sessions),
      shareOfPersons: shareOf(counts.persons, daily.total.persons),
      adoption: adoptionOf(ofDays ?? [], daily.ofDays),
      comparison: comparisons.get(version) ?? null,
      began: (ofVersion?.began ?? []).flatMap(({ caseId, people }) => named(caseId, people)),
      ended: place === names.length - 1 ? 0 : (ofVersion?.ended ?? 0),
      returned: returns.filter((one) => isSameVersion(one.version, version)).flatMap(({ caseId }) => named(caseId, 0)),
      missing: missingOf(demand, version),
    };
  });
  return { days: windowDays, versions, settings, now: now.toISOString() };
}

/** A version's part of each day's people. A day that has hardly begun says what the day before said. */
function adoptionOf(own: readonly Counts[], all: readonly Counts[]): number[] {
  const usual = all.reduce((sum, day) => sum + day.persons, 0) / Math.max(1, all.filter((day) => day.persons > 0).length);
  let last = 0;
  return all.map(({ persons }, day) => {
    if (persons > usual / 10) last = shareOf(own[day]?.persons ?? 0, persons);
    return last;
  });
}

const shareOf = (part: number, whole: number): number => (whole === 0 ? 0 : part / whole);

const missingOf = (demand: readonly SymbolDemand[], version: string): MissingFile[] =>
  demand
    .filter((one) => isSameVersion(one.version, version) && !one.found)
    .map(({ kind, name, symbolId, build, reports }) => ({ kind, name, symbolId, build, reports }));

/** Whether a version may go to more people, with what it was judged by. */
export interface CheckedRollout extends RolloutCheck {
  readonly version: string;
  readonly rollout: RolloutStatus;
  /** Days of sessions that were looked at. */
  readonly span: DaySpan;
  /** How it does against the version that it is compared with; null when there is none. */
  readonly comparison: VersionComparison | null;
  /** People who met no crash in their first days of use and in their first sessions: of it, and of the version that it is compared with. */
  readonly firstDays: readonly FreeInFirstUses[];
  readonly firstSessions: readonly FreeInFirstUses[];
  readonly now: string;
}

/** The share of people who met no crash in so many first days of use, or first sessions; null where too few got so far. */
export interface FreeInFirstUses {
  readonly uses: number;
  readonly own: Estimate | null;
  readonly baseline: Estimate | null;
}

const toldUses = [1, 3, 10] as const;

/** Cases that begin in one version and are looked through for those that are neither closed nor muted. */
const mostBegun = 500;

/**
 * Judges a version by the conditions of its app, over the days since it came out, and against the version that it is compared with over the
 * same days.
 */
export async function loadRolloutCheck(
  services: DeskServices,
  app: App,
  { version, now, ...as }: { version: string; now: Date } & ComparedAs,
): Promise<CheckedRollout> {
  const [history, cases, demand, steps, { conditions }] = await Promise.all([
    loadVersionHistory(services, app, now),
    services.reports.ask('casesOfVersions', app.id, ['crash', 'hang'], { most: mostBegun }),
    listSymbolDemand(services.database, app.id),
    listRolloutSteps(services.database, app.id, version),
    loadStabilitySettings(services, app),
  ]);
  const ofVersion = cases.find((one) => isSameVersion(one.version, version));
  const known = history.known.find((one) => isSameVersion(one.version, version));
  if (!known && !ofVersion && steps.length === 0)
    throw new ApiError('not-found', `Nothing is known of ${app.name} ${version}: no session, no report, no rollout.`);
  const cameOut = (known && cameOutOn(known, history.first)) ?? history.today;
  const span = { first: Math.max(cameOut, history.today - longestComparedDays + 1), last: history.today };
  const only: Scope = { ...defaultScope, days: null, versions: { match: 'only', version } };
  const [counted, comparison, heads] = await Promise.all([
    services.sessions.ask('matrix', app.id, only, span, null, null, { exactness: 'exact' }),
    compareVersion(services, app, { version, history }, as),
    loadCaseHeads(
      services.database,
      (ofVersion?.began ?? []).map((one) => one.caseId),
    ),
  ]);
  const firstUses = await loadFirstUses(services, app, { version, than: comparison?.than ?? null });
  const evidence: RolloutEvidence = {
    counts: counted.total,
    comparison,
    newCases: (ofVersion?.began ?? [])
      .flatMap(({ caseId, people }) => {
        const head = heads.find((one) => one.id === caseId);
        return head && head.state !== 'closed' && head.state !== 'muted'
          ? [{ ref: `${app.prefix}-${head.number}`, title: `${head.what} in ${head.where}`, people }]
          : [];
      })
      .slice(0, shownCases),
    missing: missingOf(demand, version).map(({ kind, name, reports }) => ({ file: name === null ? kind : `${kind} of ${name}`, reports })),
  };
  return {
    ...checkRollout(conditions, evidence),
    version,
    rollout: rolloutStatus(steps),
    span,
    comparison,
    ...firstUses,
    now: now.toISOString(),
  };
}

/** How people do in their first uses of two versions, over all days that are kept of them. */
async function loadFirstUses({ sessions }: DeskServices, app: App, { version, than }: { version: string; than: string | null }) {
  const [own, baseline] = await Promise.all(
    [version, than].map((name) =>
      name === null
        ? null
        : sessions.ask('firstUses', app.id, { ...defaultScope, versions: { match: 'only', version: name } }, spanOf({ days: null }, 0)),
    ),
  );
  const free = (first: FirstUses | undefined, uses: number) => (first ? freeInFirstUses(first, uses) : null);
  const told = (of: 'days' | 'sessions') =>
    toldUses.map((uses): FreeInFirstUses => ({ uses, own: free(own?.[of], uses), baseline: free(baseline?.[of], uses) }));
  return { firstDays: told('days'), firstSessions: told('sessions') };
}
