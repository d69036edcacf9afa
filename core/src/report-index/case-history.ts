import { dayMs } from '../durations.ts';
import type { Scope } from '../scope/scope.ts';
import { CaseOrder, wantedClasses } from './case-order.ts';
import { countCases } from './count-cases.ts';
import { none, type ReportIndex } from './report-index.ts';
import { scopeColumns, windowOf } from './rows-in-scope.ts';

/** How a case went: reports, each with its weight, by version over its whole life, and over the window of the scope in equal steps. */
export interface CaseHistory {
  readonly byVersion: readonly { readonly version: string; readonly reports: number; readonly firstAt: number }[];
  readonly trend: readonly number[];
  /** The first report of its whole life, in the scope or not. */
  readonly beganAt: number;
}

/** Steps of a trend, and the days it shows when the scope is all time. */
export const trendSteps = 28;
const trendDaysOfAllTime = 90;

/** The course of cases, by their number in the store. */
export function historiesOf(index: ReportIndex, caseIds: readonly number[], scope: Scope, now: number): Map<number, CaseHistory> {
  const from = scope.days === null ? now - trendDaysOfAllTime * dayMs : windowOf(scope, now).from;
  const spanMs = now - from;
  const columns = scopeColumns(index, scope);
  const isWanted = wantedClasses(columns);
  const { fulfils } = columns;
  const order = CaseOrder.of(index);
  return new Map(
    caseIds.map((caseId) => {
      const of = index.findCase(caseId);
      const trend = new Array<number>(trendSteps).fill(0);
      for (const { columns, first, end } of of === none ? [] : order.stretchesOf(of)) {
        const { rows, at, classes, weights } = columns;
        for (let place = first; place < end; place++) {
          const moment = at[place] as number;
          if (moment < from || isWanted[classes[place] as number] !== 1) continue;
          if (fulfils !== null && fulfils[rows[place] as number] !== 1) continue;
          const step = Math.min(Math.floor(((moment - from) / spanMs) * trendSteps), trendSteps - 1);
          trend[step] = (trend[step] as number) + (weights === null ? 1 : (weights[place] as number));
        }
      }
      return [caseId, { ...lifeOf(index, of), trend: trend.map(Math.round) }];
    }),
  );
}

type CaseLife = Omit<CaseHistory, 'trend'>;

const lives = new WeakMap<ReportIndex, Map<number, { readonly revision: number; readonly life: CaseLife }>>();

/** What a case was over its whole life, looked at again only after one of its reports has changed. */
function lifeOf(index: ReportIndex, of: number): CaseLife {
  const known = lives.get(index) ?? new Map();
  lives.set(index, known);
  const revision = index.caseRevisions.values[of] ?? 0;
  const before = known.get(of);
  if (before?.revision === revision) return before.life;
  const life = findLife(index, of);
  known.set(of, { revision, life });
  return life;
}

function findLife(index: ReportIndex, of: number): CaseLife {
  const rows = index.rowsOfCase(of);
  const reports = new Float64Array(index.versions.length);
  const firstAt = new Float64Array(index.versions.length).fill(Number.POSITIVE_INFINITY);
  const [times, versionOf] = [index.at.values, index.versionOf.values];
  for (let place = 0; place < rows.length; place++) {
    const row = rows[place] as number;
    const at = times[row] as number;
    const version = versionOf[row] as number;
    reports[version] = (reports[version] as number) + index.weightOf(row);
    if (at < (firstAt[version] as number)) firstAt[version] = at;
  }
  const byVersion = index.versions.flatMap((version, at) =>
    (reports[at] as number) > 0 ? [{ version, reports: Math.round(reports[at] as number), firstAt: firstAt[at] as number }] : [],
  );
  return { byVersion, beganAt: Math.min(...byVersion.map((one) => one.firstAt)) };
}

/** When cases began: the first report of their whole life, by their number in the store. */
export const beginningsOf = (index: ReportIndex, caseIds: readonly number[]): Map<number, number> =>
  new Map(caseIds.map((caseId) => [caseId, lifeOf(index, index.findCase(caseId)).beganAt]));

/** What of the cases of a scope is worth a mark on a chart. */
export interface NotableCases {
  /** Those that began since a moment and have most people, these first. */
  readonly started: readonly { readonly caseId: number; readonly beganAt: number }[];
  /** Those of the ones asked about that the scope holds, with most people first. */
  readonly among: readonly number[];
}

/** Chooses cases by how many people of a scope they hit; `most` of those that began since a moment. */
export function notableCases(
  index: ReportIndex,
  scope: Scope,
  now: number,
  { since, among, most }: { since: number; among: readonly number[]; most: number },
): NotableCases {
  const people = new Map(countCases(index, scope, now).cases.map((one) => [one.caseId, one.people]));
  const byPeople = (a: number, b: number) => (people.get(b) ?? 0) - (people.get(a) ?? 0) || a - b;
  const begun = [...beginningsOf(index, [...people.keys()])].filter(([, at]) => at >= since).sort(([a], [b]) => byPeople(a, b));
  return {
    started: begun.slice(0, most).map(([caseId, beganAt]) => ({ caseId, beganAt })),
    among: [...new Set(among)].filter((caseId) => people.has(caseId)).sort(byPeople),
  };
}
