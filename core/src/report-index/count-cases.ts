import { reportKinds } from '../report/report-kinds.ts';
import { printScope, type Scope, scopeOfReports } from '../scope/scope.ts';
import { versionSortKey } from '../version/version-order.ts';
import { CaseOrder, kindOfClass, type RowStretch, stateOfClass, versionOfClass, wantedClasses } from './case-order.ts';
import { isWaitingState, none, type ReportIndex } from './report-index.ts';
import { scopeColumns, windowOf } from './rows-in-scope.ts';

/** What a scope holds of one case. Times are milliseconds since 1970. */
export interface CaseCount {
  readonly caseId: number;
  /** Each with its weight, so that those count that were sampled out. */
  readonly reports: number;
  readonly people: number;
  readonly firstAt: number;
  readonly lastAt: number;
  /** Sessions of the scope in the versions that its reports are of; 0 where no session was told. */
  readonly sessions: number;
}

/** Sessions of a scope by version. */
export type SessionsOfVersions = readonly { readonly version: string; readonly sessions: number }[];

export interface ScopeCount {
  /** Each with its weight, here and of each kind. */
  readonly reports: number;
  /** Those that are there to be looked at; fewer where some were sampled out. */
  readonly kept: number;
  readonly people: number;
  readonly waiting: number;
  /** Reports of each kind, in the order of `reportKinds`. */
  readonly byKind: readonly number[];
  readonly cases: readonly CaseCount[];
  /** Reports of each version of the app, in the scope or not. */
  readonly versions: readonly VersionCount[];
}

/** Reports of a version, of every kind and build. */
export interface VersionCount {
  readonly version: string;
  readonly reports: number;
}

const remembered = new WeakMap<
  ReportIndex,
  { readonly revision: number; readonly now: number; readonly name: string; readonly count: ScopeCount }
>();

/** A list that is scrolled, or looked at by several, is counted once for this long, unless a report comes. */
const rememberedMs = 5_000;

/** Counts reports and people of every case that has reports in a scope, and of the scope as a whole. */
export function countCases(index: ReportIndex, scope: Scope, now: number, sessions: SessionsOfVersions = []): ScopeCount {
  const known = remembered.get(index);
  const name = printScope(scopeOfReports(scope));
  if (known?.revision === index.revision && known.name === name && Math.abs(now - known.now) < rememberedMs) return known.count;
  const count = countAll(index, scope, now, sessions);
  remembered.set(index, { revision: index.revision, now, name, count });
  return count;
}

function countAll(index: ReportIndex, scope: Scope, now: number, sessions: SessionsOfVersions): ScopeCount {
  const counter = new CaseCounter(index, scope, now, sessions);
  counter.count(none);
  const cases: CaseCount[] = [];
  for (let of = 0; of < index.caseCount; of++) {
    const counted = counter.count(of);
    if (counted.reports > 0) cases.push(countOfCase(index.caseIds[of] as number, counted));
  }
  const { reports, kept, people, waiting, byKind } = counter;
  return {
    reports: Math.round(reports),
    kept,
    people,
    waiting,
    byKind: byKind.map(Math.round),
    cases,
    versions: countVersions(index),
  };
}

/** Counts what a scope holds of one case after the other, and of all of them together. */
class CaseCounter {
  reports = 0;
  kept = 0;
  people = 0;
  waiting = 0;
  readonly byKind = reportKinds.map(() => 0);

  private readonly order: CaseOrder;
  private readonly isWanted: Uint8Array;
  private readonly fulfils: Uint8Array | null;
  private readonly from: number;
  private readonly lastCase: Int32Array;
  private readonly sessionsOf: Float64Array | null;
  private readonly lastCaseOfVersion: Int32Array;

  constructor(index: ReportIndex, scope: Scope, now: number, sessions: SessionsOfVersions) {
    this.order = CaseOrder.of(index);
    const columns = scopeColumns(index, scope);
    this.isWanted = wantedClasses(columns);
    this.fulfils = columns.fulfils;
    this.from = windowOf(scope, now).from;
    // Cases are told apart by their number + 2, so that 0 is whoever was not met yet.
    this.lastCase = new Int32Array(index.peopleSize);
    this.sessionsOf = sessionsByNumber(index, sessions);
    this.lastCaseOfVersion = new Int32Array(index.versions.length);
  }

  /** What there is of a case, or of none. Each is to be counted once. */
  count(of: number): Counted {
    let counted = noCount;
    for (const stretch of this.order.stretchesOf(of)) counted = this.add(of, stretch, counted);
    return counted;
  }

  /** Runs through every row of an app at each question: plain columns, and nothing is called for a row. */
  private add(of: number, { columns, first, end }: RowStretch, known: Counted): Counted {
    const { rows, at, classes, personOf, weights } = columns;
    const { isWanted, fulfils, from, lastCase, sessionsOf, lastCaseOfVersion, byKind } = this;
    const stamp = of + 2;
    let { reports, people, firstAt, lastAt, sessions } = known;
    let newPeople = 0;
    let waiting = 0;
    let kept = 0;
    const reportsKnown = reports;
    for (let place = first; place < end; place++) {
      const moment = at[place] as number;
      if (moment < from) continue;
      const ofClass = classes[place] as number;
      if (isWanted[ofClass] !== 1) continue;
      if (fulfils !== null && fulfils[rows[place] as number] !== 1) continue;
      const weight = weights === null ? 1 : (weights[place] as number);
      reports += weight;
      kept++;
      if (moment < firstAt) firstAt = moment;
      if (moment > lastAt) lastAt = moment;
      const kind = kindOfClass(ofClass);
      byKind[kind] = (byKind[kind] as number) + weight;
      if (isWaitingState(stateOfClass(ofClass))) waiting++;
      const person = personOf[place] as number;
      if (person !== none) {
        const last = lastCase[person] as number;
        if (last !== stamp) {
          lastCase[person] = stamp;
          people++;
          if (last === 0) newPeople++;
        }
      }
      if (sessionsOf === null) continue;
      const version = versionOfClass(ofClass);
      if (lastCaseOfVersion[version] === stamp) continue;
      lastCaseOfVersion[version] = stamp;
      sessions += sessionsOf[version] as number;
    }
    this.reports += reports - reportsKnown;
    this.kept += kept;
    this.people += newPeople;
    this.waiting += waiting;
    return { reports, people, firstAt, lastAt, sessions };
  }
}

type Counted = Omit<CaseCount, 'caseId'>;

const countOfCase = (caseId: number, counted: Counted): CaseCount => ({ caseId, ...counted, reports: Math.round(counted.reports) });

const noCount: Counted = {
  reports: 0,
  people: 0,
  firstAt: Number.POSITIVE_INFINITY,
  lastAt: Number.NEGATIVE_INFINITY,
  sessions: 0,
};

/** The count of one case; null when the scope holds nothing of it. */
export function countCase(
  index: ReportIndex,
  caseId: number,
  scope: Scope,
  now: number,
  sessions: SessionsOfVersions = [],
): CaseCount | null {
  const of = index.findCase(caseId);
  const counted = of === none ? noCount : new CaseCounter(index, scope, now, sessions).count(of);
  return counted.reports === 0 ? null : countOfCase(caseId, counted);
}

/** Sessions of each version by its number in the index; null where none was told, which then costs no row a look. */
export function sessionsByNumber(index: ReportIndex, known: SessionsOfVersions): Float64Array | null {
  if (known.length === 0) return null;
  const byVersion = new Map(known.map(({ version, sessions }) => [versionSortKey(version), sessions]));
  return Float64Array.from(index.versions, (version) => byVersion.get(versionSortKey(version)) ?? 0);
}

/** Reports of each version, of every kind and build, in no order. */
export const countVersions = ({ versions, reportsOfVersions }: ReportIndex): VersionCount[] =>
  versions
    .map((version, at) => ({ version, reports: Math.round(reportsOfVersions.values[at] as number) }))
    .filter(({ reports }) => reports > 0);
