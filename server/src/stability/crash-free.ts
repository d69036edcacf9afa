import { dayMs } from '@rough-ember/core/durations';
import { type FieldName, fieldNames, meaningOf, noSession as namesNoSession } from '@rough-ember/core/fields/fields';
import { allOf, type Filter, type Restriction } from '@rough-ember/core/scope/filter/filter';
import { printFilter } from '@rough-ember/core/scope/filter/print-filter';
import { printScope, type Scope } from '@rough-ember/core/scope/scope';
import { type DailySessions, type SessionMatrix, sampleError } from '@rough-ember/core/session-index/count-sessions';
import type { Day, SessionField } from '@rough-ember/core/session-index/person-day';
import { reportConditions } from '@rough-ember/core/session-index/session-test';
import { type Counts, noCounts } from '@rough-ember/core/session-index/tally';
import { spanBefore, spanOf } from '@rough-ember/core/session-index/window';
import { type Comparison, compareSides as compareCounted } from '@rough-ember/core/stability/comparison';
import { type BadEnds, kindsOfEnds } from '@rough-ember/core/stability/figures';
import type { TargetBudget } from '@rough-ember/core/stability/target-budget';
import type { TrendDay } from '@rough-ember/core/stability/trend-points';
import type { VersionComparison } from '@rough-ember/core/stability/version-comparison';
import { distinctVersions } from '@rough-ember/core/version/version-order';
import type { App } from '@rough-ember/store/apps';
import { loadCaseHeads } from '@rough-ember/store/cases';
import { z } from 'zod';
import type { DeskServices } from '../services.ts';
import { loadCaseMarks } from './case-marks.ts';
import { compareNewest, compareVersion, loadVersionHistory } from './compare-version.ts';
import { compareWindows, type WindowComparison } from './compare-windows.ts';
import { loadBudget } from './load-budget.ts';
import { loadStabilitySettings, type StabilitySettings } from './settings.ts';
import { loadTimeMarks, type TimeMark } from './time-marks.ts';

/** `count=hangs,kills`: what counts against a session beside a crash; and whether to count everybody however long it takes. */
export const stabilityParametersSchema = z.object({
  count: z
    .string()
    .regex(/^(hangs|kills|hangs,kills)?$/, { error: 'must be hangs, kills, or hangs,kills' })
    .default('')
    .transform((text): BadEnds => ({ hangs: text.includes('hangs'), kills: text.includes('kills') })),
  exact: z
    .enum(['0', '1'])
    .default('0')
    .transform((text) => (text === '1' ? ('exact' as const) : ('at-once' as const))),
});
type StabilityParameters = z.output<typeof stabilityParametersSchema>;

/** `version`, `flags.night-map`: a field as the filter names it. */
const fieldSchema = z
  .string()
  .max(240)
  .transform((text, context): SessionField => {
    const plain = fieldNames.find((name) => name === text);
    if (plain && !meaningOf(plain).isMap) return { field: plain, key: '' };
    const [, map, key] = /^(flags|attributes)\.(.{1,200})$/.exec(text) ?? [];
    if (map && key) return { field: map as FieldName, key };
    context.addIssue({ code: 'custom', message: `"${text.slice(0, 40)}" is no field that sessions have` });
    return z.NEVER;
  });

export const matrixSchema = z.object({ down: fieldSchema.prefault('device.model'), across: fieldSchema.prefault('version') });
export const sidesSchema = z.object({
  by: fieldSchema,
  left: z.string().max(300).optional().describe('The value to compare with; everything else, if left out.'),
  right: z.string().max(300),
});

export interface StabilityQuery extends StabilityParameters {
  readonly app: App;
  readonly scope: Scope;
  readonly now: Date;
}

/** One version of the scope, and its part of all sessions and persons. */
export interface VersionStability {
  readonly version: string;
  readonly counts: Counts;
  readonly shareOfSessions: number;
  readonly shareOfPersons: number;
  /** Against the version that it is compared with, since it came out; null where there is none. */
  readonly comparison: VersionComparison | null;
}

export interface CrashFreeOverview {
  readonly scope: Scope;
  readonly address: string;
  /** Versions that sent reports or sessions, oldest first. */
  readonly versions: readonly string[];
  readonly badEnds: BadEnds;
  readonly total: Counts;
  /** How the window compares with the one of the same length before; null when the scope is all time, or nothing was before. */
  readonly before: WindowComparison | null;
  readonly byVersion: readonly VersionStability[];
  readonly trend: StabilityTrend;
  /** Distinct persons of a day, on average over the days of the trend that are over; null when none is. */
  readonly dailyPersons: number | null;
  /** What ended badly and is in no figure here: reports that name no session, and sessions that only reports tell of. */
  readonly outside: { readonly noSession: number; readonly inferred: number };
  readonly marks: readonly TimeMark[];
  readonly settings: StabilitySettings;
  /** What the target allows in this month for such sessions; null without a target. */
  readonly budget: TargetBudget | null;
  /** Relative error of the numbers of sessions and persons, when a sample stands for all; 0 when they are exact. */
  readonly error: number;
  /** Conditions of the filter that sessions cannot be asked for. */
  readonly unasked: readonly string[];
  readonly now: string;
}

/** The newest versions day by day, and the sessions of all of them. */
export interface StabilityTrend {
  readonly first: Day;
  readonly versions: readonly {
    readonly version: string;
    readonly days: readonly TrendDay[];
  }[];
  readonly sessions: readonly number[];
}

const drawnVersions = 6;

function stabilityTrend({ first, values, days }: DailySessions): StabilityTrend {
  const drawn = Math.max(0, values.length - drawnVersions);
  return {
    first,
    versions: values.slice(drawn).map((version, at) => ({
      version,
      days: (days[drawn + at] ?? []).map(({ sessions, crashed, hung, killed, effects }) => ({
        sessions,
        crashed,
        hung,
        killed,
        effect: effects.bad,
      })),
    })),
    sessions: (days[0] ?? []).map((_, day) => days.reduce((sum, of) => sum + (of[day]?.sessions ?? 0), 0)),
  };
}

/** Today is not over, and days before the first session say nothing. */
function averagePersons({ first, ofDays }: DailySessions, today: Day): number | null {
  const started = ofDays.findIndex((day) => day.sessions > 0);
  const whole = started < 0 ? [] : ofDays.slice(started, Math.max(started, today - first));
  return whole.length === 0 ? null : whole.reduce((sum, day) => sum + day.persons, 0) / whole.length;
}

const version: SessionField = { field: 'version', key: '' };
const longestTrendDays = 120;
const shownVersions = 40;

/** The crash-free figures of a scope: in all, by version, and day by day. */
export async function loadCrashFree(
  services: DeskServices,
  { app, scope, now, count: badEnds, exact }: StabilityQuery,
): Promise<CrashFreeOverview> {
  const { sessions, reports } = services;
  const span = spanOf(scope, now.getTime());
  const today = spanOf({ days: 1 }, now.getTime()).last;
  const trendSpan = { first: Math.max(span.first, today - longestTrendDays + 1), last: Math.min(span.last, today) };
  const earlier = spanBefore(scope, now.getTime());
  const options = { exactness: exact, most: shownVersions, badEnds };
  // The days of a window that fits the chart tell its sums too; all time is counted by itself.
  const isWhole = trendSpan.first === span.first;
  const [daily, whole, before, inferred, noSession, sentBy, marks, settings, history] = await Promise.all([
    sessions.ask('dailySessions', app.id, scope, trendSpan, version, options),
    isWhole ? null : sessions.ask('matrix', app.id, scope, span, version, null, options),
    earlier && compareWindows(services, { app, scope, badEnds }, { newer: span, older: earlier }),
    sessions.ask('inferred', app.id, scope, span),
    countWithoutSession(services, { app, scope, now, count: badEnds }),
    reports.ask('countVersions', app.id),
    loadMarks(services, { app, scope, since: trendSpan.first * dayMs, now }),
    loadStabilitySettings(services, app),
    loadVersionHistory(services, app, now),
  ]);
  const { values, sums, total } = whole ? { values: whole.rows, sums: whole.ofRows, total: whole.total } : daily;
  const [comparisons, budget] = await Promise.all([
    compareNewest(services, app, values, { history, badEnds, of: scope }),
    loadBudget(services, { app, scope, badEnds, now }, settings.targetPercent),
  ]);
  return {
    scope,
    address: printScope(scope),
    versions: distinctVersions([...values, ...sentBy.map((one) => one.version)]),
    badEnds,
    total,
    before: before && before.comparison.older.count > 0 ? before : null,
    byVersion: values.map((name, at) => {
      const counts = sums[at] ?? noCounts;
      return {
        version: name,
        counts,
        shareOfSessions: total.sessions === 0 ? 0 : counts.sessions / total.sessions,
        shareOfPersons: total.persons === 0 ? 0 : counts.persons / total.persons,
        comparison: comparisons.get(name) ?? null,
      };
    }),
    trend: stabilityTrend(daily),
    dailyPersons: averagePersons(daily, today),
    outside: { noSession, inferred: inferred.crashed + (badEnds.hangs ? inferred.hung : 0) + (badEnds.kills ? inferred.killed : 0) },
    marks,
    settings,
    budget,
    error: errorOf({ sampling: daily.sampling, total }),
    unasked: reportConditions(scope.filter).map(printFilter),
    now: now.toISOString(),
  };
}

/** How many reports of a scope that would count against a session name none. */
async function countWithoutSession(
  { reports }: DeskServices,
  { app, scope, now, count }: Pick<StabilityQuery, 'app' | 'scope' | 'now' | 'count'>,
): Promise<number> {
  const asked: Scope = { ...scope, kinds: kindsOfEnds(count), cases: 'any' };
  const { values } = await reports.ask('fieldValues', app.id, asked, now.getTime(), { field: 'session', key: '' });
  return values.find((one) => one.value === namesNoSession)?.reports ?? 0;
}

/** What was changed of an app, and what became of its cases, the oldest first. */
async function loadMarks(services: DeskServices, about: { app: App; scope: Scope; since: number; now: Date }): Promise<TimeMark[]> {
  const [changes, cases] = await Promise.all([loadTimeMarks(services, about.app, about.since), loadCaseMarks(services, about)]);
  return [...changes, ...cases].sort((a, b) => a.at.localeCompare(b.at));
}

const errorOf = ({ sampling, total }: Pick<SessionMatrix, 'sampling' | 'total'>): number =>
  sampling === 'sample' ? sampleError(total.persons) : 0;

/** Sessions by two fields. */
export interface StabilityMatrix extends SessionMatrix {
  readonly error: number;
}

const shownValues = 30;

export async function loadMatrix(
  { sessions }: DeskServices,
  { app, scope, now, exact, count: badEnds }: StabilityQuery,
  down: SessionField,
  across: SessionField,
): Promise<StabilityMatrix> {
  const span = spanOf(scope, now.getTime());
  const matrix = await sessions.ask('matrix', app.id, scope, span, down, across, { exactness: exact, most: shownValues, badEnds });
  return { ...matrix, error: errorOf(matrix) };
}

/** What a case adds to the rates of two sides, for 1,000 sessions. */
export interface CaseContribution {
  readonly ref: string;
  readonly what: string;
  readonly where: string;
  readonly left: number;
  readonly right: number;
}

export interface SidesComparison {
  readonly left: Counts;
  readonly right: Counts;
  /** The right side against the left one. */
  readonly comparison: Comparison;
  readonly personsComparison: Comparison;
  /** Two versions are compared as everywhere, over days of their own; null for other sides. */
  readonly versions: VersionComparison | null;
  /** The cases that make most of the difference. */
  readonly cases: readonly CaseContribution[];
  /** Scopes of both sides as address parameters. */
  readonly addresses: readonly [string, string];
}

const shownCases = 12;

/** Compares the sessions with one value of a field with those of another, or null for all others; and tells which cases make the difference. */
export async function compareSides(
  services: DeskServices,
  { app, scope, now, count: badEnds }: StabilityQuery,
  field: SessionField,
  [left, right]: readonly [string | null, string],
): Promise<SidesComparison> {
  const isRight = hasValue(field, right);
  const scopes = {
    left: narrowed(scope, left === null ? { kind: 'not', part: isRight } : hasValue(field, left), badEnds),
    right: narrowed(scope, isRight, badEnds),
  };
  const [ofLeft, ofRight] = await Promise.all([
    countSide(services, { app, scope: scopes.left, now, badEnds }),
    countSide(services, { app, scope: scopes.right, now, badEnds }),
  ]);
  const rates = new Map<number, { left: number; right: number }>();
  for (const [side, { counts, cases }] of [['left', ofLeft] as const, ['right', ofRight] as const])
    cases.caseIds.forEach((caseId, at) => {
      const known = rates.get(caseId) ?? { left: 0, right: 0 };
      rates.set(caseId, { ...known, [side]: counts.sessions === 0 ? 0 : (1_000 * (cases.reports[at] ?? 0)) / counts.sessions });
    });
  const gap = (one: { left: number; right: number }) => Math.abs(one.right - one.left);
  const largest = [...rates].sort(([, a], [, b]) => gap(b) - gap(a)).slice(0, shownCases);
  const heads = await loadCaseHeads(
    services.database,
    largest.map(([caseId]) => caseId),
  );
  return {
    left: ofLeft.counts,
    right: ofRight.counts,
    ...(await compareScopes(services, { app, now, badEnds, field, values: [left, right], scope, scopes })),
    cases: largest.flatMap(([caseId, rate]) => {
      const head = heads.find((one) => one.id === caseId);
      return head ? [{ ref: `${app.prefix}-${head.number}`, what: head.what, where: head.where, ...rate }] : [];
    }),
    addresses: [printScope(scopes.left), printScope(scopes.right)],
  };
}

/** That a session has a value of a field; an empty one is that of those that tell none. */
function hasValue({ field, key }: SessionField, value: string): Filter {
  const told: Restriction = { kind: 'restriction', field, key: key || null, comparator: '=', value, at: 0 };
  return value === '' ? { kind: 'not', part: { ...told, comparator: ':', value: '*' } } : told;
}

/** A scope narrowed by a condition, and to what counts against a session. */
function narrowed(scope: Scope, condition: Filter, badEnds: BadEnds): Scope {
  return {
    ...scope,
    kinds: kindsOfEnds(badEnds),
    cases: 'any',
    filter: allOf([...(scope.filter === null ? [] : [scope.filter]), condition]),
  };
}

/** Two versions are compared as on every other screen; other sides over the window of the scope. */
async function compareScopes(
  services: DeskServices,
  about: {
    readonly app: App;
    readonly now: Date;
    readonly badEnds: BadEnds;
    readonly field: SessionField;
    readonly values: readonly [string | null, string];
    readonly scope: Scope;
    readonly scopes: { readonly left: Scope; readonly right: Scope };
  },
): Promise<Pick<SidesComparison, 'comparison' | 'personsComparison' | 'versions'>> {
  const { app, now, badEnds, field, values, scope, scopes } = about;
  const [left, right] = values;
  if (field.field === 'version' && left !== null && left !== '' && right !== '') {
    const history = await loadVersionHistory(services, app, now);
    const versions = await compareVersion(services, app, { version: right, history }, { against: left, badEnds, of: scope });
    if (versions) return { comparison: versions.sessions, personsComparison: versions.persons, versions };
  }
  const span = spanOf(scopes.right, now.getTime());
  const sides = { newer: { scope: scopes.right, span }, older: { scope: scopes.left, span } };
  const { sessions, persons } = await services.sessions.ask('sides', app.id, sides, { badEnds });
  return { comparison: compareCounted(sessions), personsComparison: compareCounted(persons), versions: null };
}

async function countSide(
  { sessions, reports }: DeskServices,
  { app, scope, now, badEnds }: { readonly app: App; readonly scope: Scope; readonly now: Date; readonly badEnds: BadEnds },
) {
  const [matrix, cases] = await Promise.all([
    sessions.ask('matrix', app.id, scope, spanOf(scope, now.getTime()), null, null, { badEnds }),
    reports.ask('reportsOfCases', app.id, scope, now.getTime()),
  ]);
  return { counts: matrix.total, cases };
}
