import { printScope, type Scope } from '@rough-ember/core/scope/scope';
import { type Cohort, recentDays, type WeekOfPeople } from '@rough-ember/core/session-index/people-over-time';
import { type Day, dayOf } from '@rough-ember/core/session-index/person-day';
import { spanOf } from '@rough-ember/core/session-index/window';
import { type Estimate, shareOf } from '@rough-ember/core/stability/share';
import { compareVersions } from '@rough-ember/core/version/version-order';
import type { App } from '@rough-ember/store/apps';
import type { DeskServices } from '../services.ts';
import { loadStabilitySettings } from './settings.ts';

/** People who began together, and which part of them came back in each stretch of seven days. */
export interface CohortView {
  readonly people: number;
  /** Null where too few people are there to say, or the stretch is over for none. */
  readonly later: readonly (Estimate | null)[];
}

export interface PeopleOverTimeView {
  readonly scope: Scope;
  readonly address: string;
  readonly weeks: readonly WeekOfPeople[];
  readonly ofWeeks: readonly (CohortView & { readonly first: Day })[];
  /** The newest versions with enough people who began with them, oldest first. */
  readonly ofVersions: readonly (CohortView & { readonly version: string })[];
  /** People of the last days by the version that they had last, oldest first. */
  readonly recent: { readonly days: number; readonly people: number; readonly versions: readonly PeopleOfVersion[] };
  /** The oldest version that the app still looks after, and how many of the recent people have that or a later one; null where none is named. */
  readonly supported: { readonly from: string; readonly people: number } | null;
  /** People of each day of the window, and those of them who met a crash. */
  readonly daily: { readonly first: Day; readonly people: readonly number[]; readonly crashed: readonly number[] };
  /** A sample of the people stands for all. */
  readonly isSample: boolean;
  readonly now: string;
}

export interface PeopleOfVersion {
  readonly version: string;
  readonly people: number;
}

/** People of whom a share is told. */
const enoughPeople = 20;
const shownVersions = 12;

/** How the people of an app begin, stay and come back, and what versions they have. */
export async function loadPeopleOverTime(
  services: DeskServices,
  { app, scope, now }: { app: App; scope: Scope; now: Date },
): Promise<PeopleOverTimeView> {
  const { sessions } = services;
  const [told, daily, settings] = await Promise.all([
    sessions.ask('peopleOverTime', app.id, scope, dayOf(now.getTime())),
    sessions.ask('dailySessions', app.id, scope, spanOf({ days: scope.days ?? longestDays }, now.getTime()), null),
    loadStabilitySettings(services, app),
  ]);
  const recent = told.lastVersions.reduce((sum, one) => sum + one.people, 0);
  const from = settings.supportedFrom;
  return {
    scope,
    address: printScope(scope),
    weeks: told.weeks,
    ofWeeks: told.ofWeeks.map(({ first, ...cohort }) => ({ first, ...viewOf(cohort) })),
    ofVersions: told.ofVersions
      .filter(({ people }) => people >= enoughPeople)
      .slice(-shownVersions)
      .map(({ version, ...cohort }) => ({ version, ...viewOf(cohort) })),
    recent: { days: recentDays, people: recent, versions: told.lastVersions },
    supported:
      from === null
        ? null
        : { from, people: told.lastVersions.reduce((sum, one) => sum + (compareVersions(one.version, from) >= 0 ? one.people : 0), 0) },
    daily: {
      first: daily.first,
      people: daily.ofDays.map((day) => day.persons),
      crashed: daily.ofDays.map((day) => day.personsCrashed),
    },
    isSample: told.sampling === 'sample',
    now: now.toISOString(),
  };
}

const longestDays = 90;

const viewOf = ({ people, later }: Cohort): CohortView => ({
  people,
  later: later.map(({ came, of }) => (of < enoughPeople ? null : shareOf(came, of))),
});
