import { type CaseChange, type CaseNews, caseNews, newsOf } from '@rough-ember/core/cases/case-news';
import { type CaseOrder, defaultCaseOrder } from '@rough-ember/core/cases/case-order';
import type { CaseStatus } from '@rough-ember/core/cases/case-status';
import { dayMs } from '@rough-ember/core/durations';
import type { ReportKind } from '@rough-ember/core/report/report-kinds';
import type { CaseHistory } from '@rough-ember/core/report-index/case-history';
import type { CaseCount, ScopeCount, SessionsOfVersions, VersionCount } from '@rough-ember/core/report-index/count-cases';
import { lastWeeks } from '@rough-ember/core/report-index/weeks-of-cases';
import { daysSpanned, printScope, type Scope, wholeScope } from '@rough-ember/core/scope/scope';
import { spanOf } from '@rough-ember/core/session-index/window';
import { compareVersions, versionSortKey } from '@rough-ember/core/version/version-order';
import type { App } from '@rough-ember/store/apps';
import { type CaseHead, listCaseStates, loadCaseHeads } from '@rough-ember/store/cases';
import { type IntakeKey, listIntakeKeys } from '@rough-ember/store/credentials';
import type { DeskServices } from '../services.ts';

/** A case as the desk shows it. Times are ISO texts in UTC. */
export interface CaseItem {
  /** `LG-142` */
  readonly ref: string;
  readonly kind: ReportKind;
  readonly state: CaseStatus['state'];
  /** The version it was closed in. */
  readonly closedIn: string | null;
  readonly mute: CaseStatus['mute'];
  readonly assignee: string | null;
  readonly what: string;
  readonly where: string;
  readonly message: string | null;
  readonly provisional: boolean;
  readonly reports: number;
  readonly people: number;
  /** The last whole week against the one before, whatever the window of the scope; null where nobody met it in either. */
  readonly change: CaseChange | null;
  /** Reports for 1,000 sessions of the versions it happens in; null where no session was told. */
  readonly perThousand: number | null;
  readonly news: CaseNews | null;
  readonly firstVersion: string;
  readonly lastVersion: string;
  /** The first report of its whole life, and the last in the scope. */
  readonly beganAt: string;
  readonly lastAt: string;
  /** Reports in each of the list's versions, oldest first. */
  readonly strip: readonly number[];
  readonly trend: readonly number[];
}

/** A cell of the version strips, and how many reports and sessions of the version there were in all. */
export interface StripVersion {
  readonly version: string;
  readonly reports: number;
  readonly sessions: number;
}

export interface CaseList {
  readonly scope: Scope;
  /** The scope as address parameters. */
  readonly address: string;
  readonly order: CaseOrder;
  readonly totals: Omit<ScopeCount, 'cases' | 'versions'>;
  /** Keys that keep only a share of a kind in the scope. */
  readonly sampling: readonly KeySampling[];
  /** Every version that sent reports, oldest first. */
  readonly versions: readonly string[];
  /** The versions of the strips: the latest of them, oldest first. */
  readonly stripVersions: readonly StripVersion[];
  /** Cases in the scope, and those of them that are told here, beginning with the one at `from`. */
  readonly total: number;
  readonly from: number;
  readonly cases: readonly CaseItem[];
  readonly now: string;
}

/** A key that keeps a share of the reports of a kind. */
export interface KeySampling {
  readonly key: string;
  readonly kind: ReportKind;
  readonly percent: number;
}

/** Cases that are told at once; a list asks for more as it is scrolled. */
export const casesAPage = 100;
const stripCells = 12;

/** A case is new for a month at most; in a longer window everything would be. */
const newDays = 30;

export interface CaseListQuery {
  readonly app: App;
  readonly scope: Scope;
  readonly order?: CaseOrder;
  readonly from?: number;
  /** Mail address of whoever asks, or the name of their token. */
  readonly self?: string;
  readonly now: Date;
}

/** By whom the cases of a scope are to be looked after: undefined for anybody, null for nobody. */
const assigneeOf = ({ assignee }: Scope, self: string): string | null | undefined =>
  assignee === 'anybody' ? undefined : assignee === 'nobody' ? null : assignee === 'me' ? self : assignee;

/** The cases of a scope, in the order that is asked for. */
export async function loadCaseList(
  services: DeskServices,
  { app, scope, order = defaultCaseOrder, from = 0, self = '', now }: CaseListQuery,
): Promise<CaseList> {
  const [{ cases, versions: sent, ...totals }, sessions, keys] = await Promise.all([
    countInOrder(services, { app, scope, order, self, now }),
    loadSessionsOfAllVersions(services, app),
    listIntakeKeys(services.database, app.id),
  ]);
  const versions = inVersionOrder(sent, sessions);
  const stripVersions = latestVersions(versions);
  const page = cases.slice(from, from + casesAPage);
  return {
    scope,
    address: printScope(scope),
    order,
    totals,
    sampling: samplingOf(keys, scope),
    versions: versions.map((one) => one.version),
    stripVersions,
    total: cases.length,
    from,
    cases: await loadItems(services, { app, scope, now, counts: page, stripVersions }),
    now: now.toISOString(),
  };
}

const samplingOf = (keys: readonly IntakeKey[], { kinds }: Scope): KeySampling[] =>
  keys
    .filter((key) => key.revokedAt === null)
    .flatMap(({ name, rules }) => kinds.map((kind) => ({ key: name, kind, percent: rules.samplePercent[kind] })))
    .filter(({ percent }) => percent < 100);

/** Counts the cases that a scope lists, in order. */
export async function countInOrder(
  services: DeskServices,
  { app, scope, order, now, self = '' }: Required<Omit<CaseListQuery, 'from' | 'self'>> & Pick<CaseListQuery, 'self'>,
): Promise<ScopeCount> {
  const { database, reports } = services;
  const [counted, listed, changes] = await Promise.all([
    loadSessionsOfVersions(services, app, scope, now).then((sessions) => reports.ask('countCases', app.id, scope, now.getTime(), sessions)),
    listCaseStates(database, app.id, { cases: scope.cases, assignee: assigneeOf(scope, self) }),
    order === 'news' || order === 'worsening' ? loadChanges(services, { app, scope, now }) : noChanges,
  ]);
  const cases = counted.cases.filter((one) => listed.has(one.caseId));
  if (order === 'news') {
    const ids = cases.map((one) => one.caseId);
    const began = await reports.ask('beginningsOf', app.id, ids);
    const ranks = new Map(
      cases.map((count) => {
        const news = newsOfCase({
          scope,
          now,
          change: changes.get(count.caseId) ?? null,
          state: listed.get(count.caseId) ?? 'open',
          beganAt: began.get(count.caseId) ?? 0,
        });
        return [count.caseId, news === null ? caseNews.length : caseNews.indexOf(news)];
      }),
    );
    const rank = ({ caseId }: CaseCount) => ranks.get(caseId) ?? caseNews.length;
    return { ...counted, cases: cases.sort((a, b) => rank(a) - rank(b) || inOrder.reports(a, b) || b.caseId - a.caseId) };
  }
  if (order === 'worsening') {
    const surely = ({ caseId }: CaseCount) => changes.get(caseId)?.low ?? 0;
    return { ...counted, cases: cases.sort((a, b) => surely(b) - surely(a) || inOrder.reports(a, b) || b.caseId - a.caseId) };
  }
  return { ...counted, cases: cases.sort((a, b) => inOrder[order](a, b) || b.caseId - a.caseId) };
}

/** The sessions of a scope by version. */
export const loadSessionsOfVersions = (
  { sessions }: Pick<DeskServices, 'sessions'>,
  app: App,
  scope: Scope,
  now: Date,
): Promise<SessionsOfVersions> => sessions.ask('sessionsOfVersions', app.id, scope, spanOf(scope, now.getTime()));

/** Reports for 1,000 sessions; null without a session. */
const rateOf = ({ reports, sessions }: Pick<CaseCount, 'reports' | 'sessions'>): number | null =>
  sessions === 0 ? null : (1_000 * reports) / sessions;

const noChanges: ReadonlyMap<number, CaseChange> = new Map();

/** How the cases of a scope, or some of them, changed from the last whole week but one to the last. */
async function loadChanges(
  services: DeskServices,
  { app, scope, now }: { readonly app: App; readonly scope: Scope; readonly now: Date },
  ids: readonly number[] | null = null,
): Promise<ReadonlyMap<number, CaseChange>> {
  const today = spanOf({ days: 1 }, now.getTime()).last;
  const { week, weekBefore } = lastWeeks(today);
  const [ofWeek, ofWeekBefore] = await Promise.all(
    [week, weekBefore].map((span) => services.sessions.ask('sessionsOfVersions', app.id, scope, span)),
  );
  const sessions = { week: ofWeek ?? [], weekBefore: ofWeekBefore ?? [] };
  return services.reports.ask('changesOfCases', app.id, scope, today, sessions, ids);
}

/** Why a case wants a look. */
function newsOfCase({
  scope,
  now,
  change,
  state,
  beganAt,
}: {
  scope: Scope;
  now: Date;
  change: CaseChange | null;
  state: CaseStatus['state'];
  beganAt: number;
}): CaseNews | null {
  const isNew = scope.days !== null && beganAt >= now.getTime() - Math.min(daysSpanned(scope.days), newDays) * dayMs;
  return newsOf({ state, isNew, change });
}

const inOrder: Readonly<Record<Exclude<CaseOrder, 'news' | 'worsening'>, (a: CaseCount, b: CaseCount) => number>> = {
  reports: (a, b) => b.reports - a.reports || b.people - a.people,
  people: (a, b) => b.people - a.people || b.reports - a.reports,
  rate: (a, b) => (rateOf(b) ?? 0) - (rateOf(a) ?? 0) || b.reports - a.reports,
  newest: (a, b) => b.caseId - a.caseId,
  latest: (a, b) => b.lastAt - a.lastAt,
};

/** Everything a list shows of cases that were counted. */
export async function loadItems(
  services: DeskServices,
  {
    app,
    scope,
    now,
    counts,
    stripVersions,
  }: { app: App; scope: Scope; now: Date; counts: readonly CaseCount[]; stripVersions: readonly StripVersion[] },
): Promise<CaseItem[]> {
  const ids = counts.map((one) => one.caseId);
  const [heads, histories, changes] = await Promise.all([
    loadCaseHeads(services.database, ids),
    services.reports.ask('historiesOf', app.id, ids, scope, now.getTime()),
    loadChanges(services, { app, scope, now }, ids),
  ]);
  const byId = new Map(heads.map((head) => [head.id, head]));
  return counts.flatMap((count) => {
    const head = byId.get(count.caseId);
    const history = histories.get(count.caseId);
    // A case that lost its last report since it was counted has no history any more.
    return head && history && Number.isFinite(history.beganAt)
      ? [toCaseItem({ app, scope, now, stripVersions }, { head, count, history, change: changes.get(count.caseId) ?? null })]
      : [];
  });
}

/** The versions of an app that sent reports, oldest first, their builds taken together. */
export async function loadVersions(services: Pick<DeskServices, 'reports' | 'sessions'>, app: App): Promise<StripVersion[]> {
  return inVersionOrder(...(await Promise.all([services.reports.ask('countVersions', app.id), loadSessionsOfAllVersions(services, app)])));
}

const loadSessionsOfAllVersions = (services: Pick<DeskServices, 'sessions'>, app: App): Promise<SessionsOfVersions> =>
  loadSessionsOfVersions(services, app, { ...wholeScope, builds: 'any' }, new Date(0));

function inVersionOrder(counted: readonly VersionCount[], sessions: SessionsOfVersions): StripVersion[] {
  const sessionsOf = new Map(sessions.map((one) => [versionSortKey(one.version), one.sessions]));
  const byKey = new Map<string, StripVersion>();
  // Names that mean the same are one version, under the name that most reports have.
  for (const { version, reports } of [...counted].sort((a, b) => b.reports - a.reports)) {
    const key = versionSortKey(version);
    const known = byKey.get(key);
    byKey.set(key, known ? { ...known, reports: known.reports + reports } : { version, reports, sessions: sessionsOf.get(key) ?? 0 });
  }
  return [...byKey.values()].sort((a, b) => compareVersions(a.version, b.version));
}

/** The versions that fit a strip. */
export const latestVersions = (versions: readonly StripVersion[]): readonly StripVersion[] => versions.slice(-stripCells);

function toCaseItem(
  { app, scope, now, stripVersions }: { app: App; scope: Scope; now: Date; stripVersions: readonly StripVersion[] },
  { head, count, history, change }: { head: CaseHead; count: CaseCount; history: CaseHistory; change: CaseChange | null },
): CaseItem {
  const ordered = history.byVersion.map((one) => one.version).sort(compareVersions);
  const reportsOf = new Map<string, number>();
  for (const { version, reports } of history.byVersion)
    reportsOf.set(versionSortKey(version), (reportsOf.get(versionSortKey(version)) ?? 0) + reports);
  const { id: _id, number, culprit: _culprit, ...shown } = head;
  return {
    ref: `${app.prefix}-${number}`,
    ...shown,
    reports: count.reports,
    people: count.people,
    change,
    perThousand: rateOf(count),
    news: newsOfCase({ scope, now, change, state: head.state, beganAt: history.beganAt }),
    firstVersion: ordered[0] ?? '',
    lastVersion: ordered.at(-1) ?? '',
    beganAt: new Date(history.beganAt).toISOString(),
    lastAt: new Date(count.lastAt).toISOString(),
    strip: stripVersions.map(({ version }) => reportsOf.get(versionSortKey(version)) ?? 0),
    trend: history.trend,
  };
}
