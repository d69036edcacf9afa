import { defaultScope } from '@rough-ember/core/scope/scope';
import type { Counts } from '@rough-ember/core/session-index/tally';
import { spanOf } from '@rough-ember/core/session-index/window';
import type { Comparison } from '@rough-ember/core/stability/comparison';
import { type App, listApps } from '@rough-ember/store/apps';
import type { WallLink } from '@rough-ember/store/wall-links';
import { loadNow, type Now } from '../now/load-now.ts';
import type { DeskServices } from '../services.ts';
import { compareWindows } from '../stability/compare-windows.ts';
import { loadStabilitySettings } from '../stability/settings.ts';

/** A case as a wall tells it: what it is and how many it hits, and nobody by name. */
export interface WallCase {
  readonly ref: string;
  readonly what: string;
  readonly where: string;
  readonly people: number;
  readonly why: 'began' | 'came back' | 'getting worse';
}

/** What a wall shows of one app. */
export interface WallApp {
  readonly slug: string;
  readonly name: string;
  /** IANA name of the zone that its clock shows. */
  readonly zone: string;
  /** Share of sessions without a crash in percent that the app aims at; null for none. */
  readonly targetPercent: number | null;
  readonly week: Now['week'];
  /** So far today, and how that compares with the same app over the seven days before. */
  readonly today: { readonly counts: Counts; readonly comparison: Comparison | null };
  readonly newest: Now['newest'];
  readonly cases: readonly WallCase[];
  /** Reports that wait for symbol files. */
  readonly unreadable: number;
}

/** What a wall shows: one app after the other. Times are ISO texts in UTC. */
export interface Wall {
  readonly name: string;
  /** The apps that take turns. */
  readonly apps: readonly Pick<WallApp, 'slug' | 'name'>[];
  /** The one that was asked for, or the first; null when there is none. */
  readonly shown: WallApp | null;
  readonly now: string;
}

const shownCases = 5;

/** The figures of an app of a link. Everybody who has it sees the same, so nothing is told that names a person. */
export async function loadWall(services: DeskServices, link: WallLink, slug: string | null, now: Date): Promise<Wall> {
  const apps = (await listApps(services.database)).filter((one) => link.appIds === null || link.appIds.includes(one.id));
  const app = apps.find((one) => one.slug === slug) ?? apps[0];
  return {
    name: link.name,
    apps: apps.map(({ slug, name }) => ({ slug, name })),
    shown: app ? await loadApp(services, app, now) : null,
    now: now.toISOString(),
  };
}

const daysCompared = 7;

async function loadApp(services: DeskServices, app: App, now: Date): Promise<WallApp> {
  const { first, last } = spanOf({ days: 1 }, now.getTime());
  const [news, today, before, settings] = await Promise.all([
    loadNow(services, app, { since: null, now }),
    services.sessions.ask('matrix', app.id, defaultScope, { first, last }, null, null),
    compareWindows(
      services,
      { app, scope: defaultScope },
      { newer: { first, last }, older: { first: first - daysCompared, last: first - 1 } },
    ),
    loadStabilitySettings(services, app),
  ]);
  const named = (cases: Now['started'], why: WallCase['why']) =>
    cases.map(({ ref, what, where, people }) => ({ ref, what, where, people, why }));
  const cases = [...named(news.reopened, 'came back'), ...named(news.worse, 'getting worse'), ...named(news.started, 'began')];
  return {
    slug: app.slug,
    name: app.name,
    zone: app.zone ?? 'UTC',
    targetPercent: settings.targetPercent,
    week: news.week,
    today: {
      counts: today.total,
      comparison: before.comparison.older.count > 0 ? before.comparison : null,
    },
    newest: news.newest,
    cases: cases.sort((a, b) => b.people - a.people).slice(0, shownCases),
    unreadable: news.missing.reduce((sum, one) => sum + one.reports, 0),
  };
}
