import { printFilter } from '@rough-ember/core/scope/filter/print-filter';
import { printScope, type Scope } from '@rough-ember/core/scope/scope';
import type { RequestActivity, ScreenCounts } from '@rough-ember/core/session-index/count-activities';
import { sampleError } from '@rough-ember/core/session-index/count-sessions';
import { reportConditions } from '@rough-ember/core/session-index/session-test';
import { spanOf } from '@rough-ember/core/session-index/window';
import type { Verdict } from '@rough-ember/core/stability/comparison';
import { verdictsOfMany } from '@rough-ember/core/stability/discoveries';
import { type BadEnds, badVisits, kindsOfEnds } from '@rough-ember/core/stability/figures';
import { sidesOfParts } from '@rough-ember/core/stability/sides';
import { compareVersions } from '@rough-ember/core/version/version-order';
import type { App } from '@rough-ember/store/apps';
import { loadCaseHeads } from '@rough-ember/store/cases';
import type { DeskServices } from '../services.ts';
import type { StabilityQuery } from './crash-free.ts';

/** A case with how many of its reports something is told of. */
export interface ActivityCase {
  readonly ref: string;
  readonly what: string;
  readonly where: string;
  readonly reports: number;
}

/** A screen of the app: how much it is used, and what goes wrong on it. */
export interface ScreenItem extends Omit<ScreenCounts, 'visitsOfVersions'> {
  /** Reports of what counts against a session that came while it was shown, and whom they came from. */
  readonly reports: number;
  readonly people: number;
  /** Its visits against those of all other screens; of all that are told better or worse one in twenty is so by chance. */
  readonly verdict: Verdict;
  /** In the order of `AppScreens.versions`. */
  readonly versions: readonly { readonly visits: number; readonly reports: number }[];
  /** Those with most of its reports. */
  readonly cases: readonly ActivityCase[];
}

/** What screens and requests have in common. */
interface ActivityOverview {
  readonly scope: Scope;
  readonly address: string;
  readonly badEnds: BadEnds;
  /** Screens or requests that are left out, those with fewest reports and visits. */
  readonly leftOut: number;
  /** Persons of whom anything is told. */
  readonly persons: number;
  /** Relative error of the numbers of visits, sessions and persons, when a sample stands for all; 0 when they are exact. */
  readonly error: number;
  /** Conditions of the filter that sessions cannot be asked for. */
  readonly unasked: readonly string[];
  readonly now: string;
}

export interface AppScreens extends ActivityOverview {
  /** Oldest first. */
  readonly versions: readonly string[];
  readonly screens: readonly ScreenItem[];
  /** Reports that do not tell on which screen they came. */
  readonly reportsElsewhere: number;
}

/** A kind of request, and the cases that follow its failure. */
export interface RequestItem extends RequestActivity {
  /** Reports in whose trail it failed. */
  readonly reportsAfter: number;
  /** Whose reports tell of its failure more often than the others do, beyond chance. */
  readonly cases: readonly (ActivityCase & { readonly ofCase: number })[];
}

export interface AppRequests extends ActivityOverview {
  readonly requests: readonly RequestItem[];
}

const shownVersions = 12;
/** Names that somebody makes up by the thousand do not all go into a page. */
const mostShown = 1_000;

/** The screens of the app in a scope, with what went wrong on each. */
export async function loadScreens(services: DeskServices, query: StabilityQuery): Promise<AppScreens> {
  const { sessions, reports } = services;
  const { app, now, exact } = query;
  const scope = ofEnds(query);
  const [activity, { reports: allReports, kept, screens: troubled }, { total }] = await Promise.all([
    sessions.ask('screens', app.id, scope, spanOf(scope, now.getTime()), exact),
    reports.ask('reportsByScreen', app.id, scope, now.getTime()),
    sessions.ask('matrix', app.id, scope, spanOf(scope, now.getTime()), null, null, { badEnds: query.count }),
  ]);
  // Reports that stand for others tell no more surely than as many as there are.
  const effect = total.effects.bad * (kept === 0 ? 1 : Math.max(1, allReports / kept));
  const { sampling, persons } = activity;
  const troubleOf = new Map(troubled.map((one) => [one.screen, one]));
  const visited = new Map(activity.screens.map((one) => [one.screen, one]));
  const versions = newest([...activity.versions, ...troubled.flatMap((one) => one.versions.map(({ version }) => version))]);
  const names = [...new Set([...visited.keys(), ...troubleOf.keys()])];
  const all = { visits: sum(activity.screens.map((one) => one.visits)), reports: sum(troubled.map((one) => one.reports)) };
  const caseOf = await loadCases(
    services,
    app,
    troubled.flatMap((one) => one.cases.map(({ caseId }) => caseId)),
  );
  const verdicts = verdictsOfScreens(
    names.map((screen) => ({ visits: visited.get(screen)?.visits ?? 0, reports: troubleOf.get(screen)?.reports ?? 0 })),
    all,
    effect,
  );
  const screens = names.map((screen, place): ScreenItem => {
    const { visits, sessions, persons, visitsOfVersions } = visited.get(screen) ?? unvisited;
    const { reports, people, versions: byVersion, cases } = troubleOf.get(screen) ?? untroubled;
    return {
      screen,
      visits,
      sessions,
      persons,
      reports,
      people,
      verdict: verdicts[place] ?? 'too-early',
      versions: versions.map((version) => ({
        visits: visitsOfVersions[activity.versions.indexOf(version)] ?? 0,
        reports: byVersion.find((one) => one.version === version)?.reports ?? 0,
      })),
      cases: cases.flatMap(({ caseId, reports }) => caseOf(caseId).map((one) => ({ ...one, reports }))),
    };
  });
  const shown = screens.sort((a, b) => b.reports - a.reports || b.visits - a.visits).slice(0, mostShown);
  const leftOut = screens.length - shown.length;
  return { ...overviewOf(query, { sampling, persons }), leftOut, versions, screens: shown, reportsElsewhere: allReports - all.reports };
}

/** What a screen is known by: its visits, and the reports that came while it was shown. */
type VisitsAndReports = Parameters<typeof badVisits>[0];

/** Each screen against all others. Reports of a person come together as their crashed sessions do. */
function verdictsOfScreens(screens: readonly VisitsAndReports[], all: VisitsAndReports, effect: number): Verdict[] {
  const sides = screens.map(({ visits, reports }) =>
    sidesOfParts(badVisits({ visits, reports }), badVisits({ visits: all.visits - visits, reports: all.reports - reports }), effect),
  );
  // Of a screen of which sessions tell nothing there is no rate to compare.
  return verdictsOfMany(sides).map((verdict, place) => (screens[place]?.visits === 0 ? 'too-early' : verdict));
}

const unvisited = { visits: 0, sessions: 0, persons: 0, visitsOfVersions: [] };
const untroubled = { reports: 0, people: 0, versions: [], cases: [] };

/** The requests of the app in a scope, with the cases that follow their failure. */
export async function loadRequests(services: DeskServices, query: StabilityQuery): Promise<AppRequests> {
  const { sessions, reports } = services;
  const { app, now, exact } = query;
  const scope = ofEnds(query);
  const [activity, failures] = await Promise.all([
    sessions.ask('requests', app.id, scope, spanOf(scope, now.getTime()), exact),
    // What follows a failure may be any trouble, handled errors first of all.
    reports.ask('casesAfterFailures', app.id, { ...scope, kinds: ['crash', 'hang', 'kill', 'error'] }, now.getTime()),
  ]);
  const caseOf = await loadCases(
    services,
    app,
    failures.flatMap((one) => one.cases.map(({ caseId }) => caseId)),
  );
  const failureOf = new Map(failures.map((one) => [one.request, one]));
  const requests = activity.requests.slice(0, mostShown).map((one): RequestItem => {
    const failure = failureOf.get(one.request);
    return {
      ...one,
      reportsAfter: failure?.reports ?? 0,
      cases: (failure?.cases ?? []).flatMap(({ caseId, ...counts }) => caseOf(caseId).map((head) => ({ ...head, ...counts }))),
    };
  });
  return { ...overviewOf(query, activity), leftOut: activity.requests.length - requests.length, requests };
}

/** The scope of the reports that count against a session. */
const ofEnds = ({ scope, count }: StabilityQuery): Scope => ({ ...scope, cases: 'any', kinds: kindsOfEnds(count) });

const overviewOf = (
  { scope, count, now }: StabilityQuery,
  { sampling, persons }: { readonly sampling: 'everybody' | 'sample'; readonly persons: number },
): Omit<ActivityOverview, 'leftOut'> => ({
  scope,
  address: printScope(scope),
  badEnds: count,
  persons,
  error: sampling === 'sample' ? sampleError(persons) : 0,
  unasked: reportConditions(scope.filter).map(printFilter),
  now: now.toISOString(),
});

const newest = (versions: readonly string[]): string[] => [...new Set(versions)].sort(compareVersions).slice(-shownVersions);

/** How cases are named, by their id; nothing of those that are gone meanwhile. */
async function loadCases({ database }: DeskServices, app: App, ids: readonly number[]) {
  const heads = new Map((await loadCaseHeads(database, [...new Set(ids)])).map((one) => [one.id, one]));
  return (id: number) => {
    const head = heads.get(id);
    return head ? [{ ref: `${app.prefix}-${head.number}`, what: head.what, where: head.where }] : [];
  };
}

const sum = (numbers: readonly number[]): number => numbers.reduce((total, number) => total + number, 0);
