import { dayMs } from '@rough-ember/core/durations';
import { defaultScope, type Scope, type ScopeDays, scopeDays } from '@rough-ember/core/scope/scope';
import type { DailySessions } from '@rough-ember/core/session-index/count-sessions';
import type { Counts } from '@rough-ember/core/session-index/tally';
import { spanOf } from '@rough-ember/core/session-index/window';
import type { Comparison } from '@rough-ember/core/stability/comparison';
import { badVisits, onlyCrashes, perThousand } from '@rough-ember/core/stability/figures';
import type { TargetBudget } from '@rough-ember/core/stability/target-budget';
import type { SymbolFileKind } from '@rough-ember/core/symbols/families';
import type { App } from '@rough-ember/store/apps';
import { listRefusals } from '@rough-ember/store/intake-log';
import { listSymbolDemand } from '@rough-ember/store/symbol-files';
import { type CaseItem, loadCaseList } from '../desk/case-list.ts';
import type { DeskServices } from '../services.ts';
import { loadScreens, type ScreenItem } from '../stability/app-activity.ts';
import { compareWindows } from '../stability/compare-windows.ts';
import { loadBudget } from '../stability/load-budget.ts';
import { loadStabilitySettings } from '../stability/settings.ts';
import { loadVersionList, type VersionItem } from '../versions/load-versions.ts';

/** A symbol file that reports wait for. */
export interface WantedFile {
  readonly kind: SymbolFileKind;
  readonly name: string | null;
  readonly version: string;
  readonly reports: number;
}

/** What changed of an app since somebody looked. Times are ISO texts in UTC. */
export interface Now {
  /** When they looked before; null at the first time, and then a week is told. */
  readonly since: string | null;
  /** The window that holds it. */
  readonly days: ScopeDays;
  /** The newest version that people use, against the one before it. */
  readonly newest: Pick<VersionItem, 'version' | 'counts' | 'comparison' | 'rollout' | 'shareOfSessions'> | null;
  /** The last seven days, and the seven before. */
  readonly week: { readonly counts: Counts; readonly comparison: Comparison; readonly isSample: boolean; readonly daily: DailySessions };
  /** What the target allows in this month; null without a target. */
  readonly budget: TargetBudget | null;
  /** Cases by why they want a look; those with most people first. */
  readonly started: readonly CaseItem[];
  readonly reopened: readonly CaseItem[];
  readonly worse: readonly CaseItem[];
  /** The screens of the app that surely crash more than the others in 1,000 visits, over the last seven days; the worst first. */
  readonly worstScreens: readonly ScreenItem[];
  readonly missing: readonly WantedFile[];
  readonly refusals: readonly { readonly reason: string; readonly requests: number }[];
  readonly now: string;
}

const usualDays = 7;
const shownCases = 6;
const shownScreens = 4;

/** The shortest window of the scope that reaches back to a moment. */
const daysSince = (since: Date | null, now: Date): ScopeDays => {
  if (since === null) return usualDays;
  const days = (now.getTime() - since.getTime()) / dayMs;
  return scopeDays.find((one) => one >= days) ?? (scopeDays.at(-1) as ScopeDays);
};

/** What changed since a moment: versions, cases, symbol files and intake, each with what it counts. */
export async function loadNow(services: DeskServices, app: App, { since, now }: { since: Date | null; now: Date }): Promise<Now> {
  const { database, sessions } = services;
  const days = daysSince(since, now);
  const from = since ?? new Date(now.getTime() - usualDays * dayMs);
  // A week at least tells what is getting worse; a day has too few.
  const scope: Scope = { ...defaultScope, days: Math.max(days, usualDays) as ScopeDays };
  const week = { ...defaultScope, days: usualDays } as const;
  const thisWeeks = spanOf(week, now.getTime());
  const weekBefore = { first: thisWeeks.first - usualDays, last: thisWeeks.first - 1 };
  const [list, versions, thisWeek, againstBefore, daily, screens, demand, refusals, budget] = await Promise.all([
    loadCaseList(services, { app, scope, order: 'news', now }),
    loadVersionList(services, app, now),
    sessions.ask('matrix', app.id, week, thisWeeks, null, null),
    compareWindows(services, { app, scope: week }, { newer: thisWeeks, older: weekBefore }),
    sessions.ask('dailySessions', app.id, week, spanOf({ days: 14 }, now.getTime()), null),
    loadScreens(services, { app, scope: week, count: onlyCrashes, exact: 'at-once', now }),
    listSymbolDemand(database, app.id),
    listRefusals(database, { appId: app.id, strangers: false, since: new Date(now.getTime() - dayMs) }),
    loadStabilitySettings(services, app).then(({ targetPercent }) =>
      loadBudget(services, { app, scope: defaultScope, badEnds: onlyCrashes, now }, targetPercent),
    ),
  ]);
  const ofNews = (news: CaseItem['news']) => list.cases.filter((one) => one.news === news);
  const newest = versions.versions.findLast((one) => one.counts.sessions > 0);
  return {
    since: since?.toISOString() ?? null,
    days,
    newest: newest
      ? {
          version: newest.version,
          counts: newest.counts,
          comparison: newest.comparison,
          rollout: newest.rollout,
          shareOfSessions: newest.shareOfSessions,
        }
      : null,
    budget,
    week: { counts: thisWeek.total, comparison: againstBefore.comparison, isSample: againstBefore.isSample, daily },
    started: ofNews('new')
      .filter((one) => one.beganAt >= from.toISOString())
      .slice(0, shownCases),
    reopened: ofNews('reopened').slice(0, shownCases),
    worse: ofNews('worse').slice(0, shownCases),
    worstScreens: screens.screens
      .filter((one) => one.verdict === 'worse')
      .sort((a, b) => perThousand(badVisits(b)).low - perThousand(badVisits(a)).low)
      .slice(0, shownScreens),
    missing: demand
      .filter((one) => !one.found)
      .sort((a, b) => b.reports - a.reports)
      .slice(0, shownCases)
      .map(({ kind, name, version, reports }) => ({ kind, name, version, reports })),
    refusals: refusals.slice(0, 3).map(({ reason, requests }) => ({ reason, requests })),
    now: now.toISOString(),
  };
}
