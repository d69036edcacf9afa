import { workerData } from 'node:worker_threads';
import { askNumbersOfReports, askReports } from '@rough-ember/core/ask/ask-reports';
import { type CaseChange, casesToTellOf, changesOf } from '@rough-ember/core/cases/case-news';
import { casesAfterFailures, reportsByScreen } from '@rough-ember/core/report-index/activity-cases';
import { beginningsOf, historiesOf, notableCases } from '@rough-ember/core/report-index/case-history';
import { caseReports, newestReports, positionOf } from '@rough-ember/core/report-index/case-reports';
import { casesOfVersions } from '@rough-ember/core/report-index/cases-of-versions';
import { countCase, countCases, countVersions } from '@rough-ember/core/report-index/count-cases';
import { fieldsInUse, fieldValues } from '@rough-ember/core/report-index/field-values';
import type { ReportIndex } from '@rough-ember/core/report-index/report-index';
import { reportMoments, timesOfBound } from '@rough-ember/core/report-index/report-moments';
import { similarCases } from '@rough-ember/core/report-index/similar-cases';
import { findReporters, type Reporters, standOut } from '@rough-ember/core/report-index/stand-out';
import { timeChart } from '@rough-ember/core/report-index/time-chart';
import { weeksOfCases } from '@rough-ember/core/report-index/weeks-of-cases';
import { printScope, type Scope, scopeOfReports } from '@rough-ember/core/scope/scope';
import type { Day } from '@rough-ember/core/session-index/person-day';
import type { PersonsByValue } from '@rough-ember/core/session-index/persons-by-value';
import { AnswerCache } from '../answer-cache/answer-cache.ts';
import { databaseOfThread, dropDeleted, type Questions, type ThreadTask } from '../index-thread.ts';
import { ReportIndexReplica } from './report-index-replica.ts';

const changes = new AnswerCache<ReportIndex, Map<number, CaseChange>>();
const reportersOfScopes = new AnswerCache<ReportIndex, Reporters>();

/** What can be asked of the reports of an app; each takes the index first. */
export const questions = {
  askNumbersOfReports,
  askReports,
  beginningsOf,
  casesAfterFailures,
  casesOfVersions,
  countCase,
  countCases,
  countVersions,
  historiesOf,
  caseReports,
  fieldValues,
  fieldsInUse,
  newestReports,
  notableCases,
  positionOf,
  reportMoments,
  timesOfBound,
  reportsByScreen,
  /** How many reports of a scope each case has, as two columns: thousands of cases go to another thread at each question. */
  reportsOfCases: (index: ReportIndex, scope: Scope, now: number) => {
    const { cases } = countCases(index, scope, now);
    return { caseIds: Float64Array.from(cases, (one) => one.caseId), reports: Uint32Array.from(cases, (one) => one.reports) };
  },
  similarCases,
  /** Whoever goes from case to case compares each with the same people. */
  standOut: (index: ReportIndex, caseId: number, scope: Scope, now: number, everybody: PersonsByValue) => {
    const reporters = reportersOfScopes.of(index, printScope(scopeOfReports(scope)), () => findReporters(index, scope, now));
    return standOut(index, caseId, scope, now, everybody, reporters);
  },
  timeChart,
  /** How the cases of a scope changed from the last whole week but one to the last: all of them, or some of their ids. */
  changesOfCases: (
    index: ReportIndex,
    scope: Scope,
    today: Day,
    sessions: Parameters<typeof weeksOfCases>[3],
    ids: readonly number[] | null,
  ): Map<number, CaseChange> => {
    const name = JSON.stringify([printScope(scopeOfReports(scope)), today]);
    const all = changes.of(index, name, () => changesOf(weeksOfCases(index, scope, today, sessions)));
    return ids === null ? all : new Map(ids.flatMap((id) => (all.has(id) ? [[id, all.get(id) as CaseChange]] : [])));
  },
  /** The cases that are so surely worse that somebody is told. */
  casesToTellOf: (index: ReportIndex, scope: Scope, today: Day, sessions: Parameters<typeof weeksOfCases>[3]): number[] =>
    casesToTellOf(weeksOfCases(index, scope, today, sessions)),
  /** Reports that are there; asking it reads them in. */
  size: (index: ReportIndex): number => index.size,
} as const;
export type ReportQuestions = typeof questions & {
  /** Compares what is here with the database and puts right what differs; gives how many reports that were. */
  readonly mend: (index: ReportIndex) => number;
};

const comparePauseMs = 1_000;

/** Asked about what another question has just told, so the index is as it should be. */
const followUps: ReadonlySet<string> = new Set<keyof ReportQuestions>(['beginningsOf', 'historiesOf']);

const database = databaseOfThread(workerData);
const indexes = new Map<number, ReportIndexReplica>();

/** The entry of the thread that keeps the reports: answers a question from what the store holds at that moment. */
export default async function ask({ name, appId, rest }: ThreadTask): Promise<unknown> {
  const fed = indexes.get(appId) ?? new ReportIndexReplica(database, appId);
  indexes.set(appId, fed);
  if (!(fed.isRead && followUps.has(name))) await fed.refresh();
  if (name === 'mend') {
    await dropDeleted(database, indexes);
    return fed.mend(comparePauseMs);
  }
  const question = (questions as Questions<ReportIndex>)[name] as (index: ReportIndex, ...all: readonly unknown[]) => unknown;
  return question(fed.index, ...rest);
}
