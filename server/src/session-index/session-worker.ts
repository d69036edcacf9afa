import { workerData } from 'node:worker_threads';
import { askActivities, askRequestTime } from '@rough-ember/core/ask/ask-activities';
import { askNumbersOfSessions, askSessions, type SessionsQuestion } from '@rough-ember/core/ask/ask-sessions';
import type { SessionsOfVersions } from '@rough-ember/core/report-index/count-cases';
import { countRequests, countScreens } from '@rough-ember/core/session-index/count-activities';
import {
  countDailySessions,
  countInferred,
  countMatrix,
  countSessionsOfVersions,
  countSums,
  countVersionDays,
  type VersionDays,
} from '@rough-ember/core/session-index/count-sessions';
import { type CountedSides, countSides, countVersionSides, type VersionSides } from '@rough-ember/core/session-index/count-sides';
import { countFirstUses } from '@rough-ember/core/session-index/first-uses';
import { countPeopleOverTime, type PeopleOverTime } from '@rough-ember/core/session-index/people-over-time';
import type { Day, SessionField } from '@rough-ember/core/session-index/person-day';
import { countPersonsByValue, type PersonsByValue } from '@rough-ember/core/session-index/persons-by-value';
import type { SessionIndex } from '@rough-ember/core/session-index/session-index';
import { type DaySpan, type Sampling, samplingAtOnce } from '@rough-ember/core/session-index/session-rows';
import type { SessionScope } from '@rough-ember/core/session-index/session-test';
import type { Counts, Sums } from '@rough-ember/core/session-index/tally';
import type { BadEnds } from '@rough-ember/core/stability/figures';
import { AnswerCache } from '../answer-cache/answer-cache.ts';
import { databaseOfThread, dropDeleted, type Questions, type ThreadTask } from '../index-thread.ts';
import { comparePauseMs, SessionIndexReplica } from './session-index-replica.ts';

/** How exactly to count: at once, with a sample of persons where there are many, or everybody however long it takes. */
export type Exactness = 'at-once' | 'exact';

const personsOfScopes = new AnswerCache<SessionIndex, PersonsByValue>();
const denominators = new AnswerCache<SessionIndex, SessionsOfVersions>();
/** What is said of versions is some seconds old in a large app that changes all the time, and then on every screen alike. */
const comparisons = new AnswerCache<SessionIndex, CountedSides[]>();
const days = new AnswerCache<SessionIndex, VersionDays>();
const people = new AnswerCache<SessionIndex, PeopleOverTime>();
const targets = new AnswerCache<SessionIndex, { readonly soFar: Sums; readonly recent: Counts }>();
const nameOf = ({ filter, versions, builds }: SessionScope, span: DaySpan): string => JSON.stringify([filter, versions, builds, span]);
const samplingFor = (index: SessionIndex, exactness: Exactness): Sampling => (exactness === 'exact' ? 'everybody' : samplingAtOnce(index));
const mostVersions = 500;

/** A question as it is put, with how exactly to count. */
type Asking = Omit<SessionsQuestion, 'sampling'> & { readonly exactness: Exactness };

/** What was asked, and of how many people when a sample of them stood for all; null when everybody was counted. */
function sampled<Answered extends object>(
  index: SessionIndex,
  scope: SessionScope,
  { exactness, ...question }: Asking,
  ask: (question: SessionsQuestion) => Answered,
): Answered & { readonly sampledPersons: number | null } {
  const sampling = samplingFor(index, exactness);
  const answered = ask({ ...question, sampling });
  return { ...answered, sampledPersons: sampling === 'sample' ? countSums(index, scope, question.span).persons : null };
}

/** What can be asked of the sessions of an app; each takes the index first. */
const questions = {
  matrix: (
    index: SessionIndex,
    scope: SessionScope,
    span: DaySpan,
    down: SessionField | null,
    across: SessionField | null,
    { exactness = 'at-once', ...options }: { exactness?: Exactness; most?: number; badEnds?: BadEnds } = {},
  ) => countMatrix(index, scope, span, down, across, { sampling: samplingFor(index, exactness), ...options }),
  dailySessions: (
    index: SessionIndex,
    scope: SessionScope,
    span: DaySpan,
    split: SessionField | null,
    { exactness = 'at-once', ...options }: { exactness?: Exactness; most?: number; badEnds?: BadEnds } = {},
  ) => countDailySessions(index, scope, span, split, { sampling: samplingFor(index, exactness), ...options }),
  /** Both sides of a comparison. */
  sides: countSides,
  versionSides: (
    index: SessionIndex,
    scope: SessionScope,
    pairs: readonly VersionSides[],
    options: Parameters<typeof countVersionSides>[3],
  ) =>
    comparisons.of(index, JSON.stringify([scope.filter, scope.builds, pairs, options]), () =>
      countVersionSides(index, scope, pairs, options),
    ),
  /** How far people got before a bad end. */
  firstUses: countFirstUses,
  /** How people begin, stay and come back. */
  peopleOverTime: (index: SessionIndex, scope: SessionScope, today: Day) =>
    people.of(index, JSON.stringify([scope.filter, scope.versions, scope.builds, today]), () => countPeopleOverTime(index, scope, today)),
  inferred: countInferred,
  sums: countSums,
  /** What a target is held against: the sums of a month so far, and the days whose rate is taken to go on. */
  towardsTarget: (
    index: SessionIndex,
    scope: SessionScope,
    spans: { readonly month: DaySpan; readonly recent: DaySpan },
    badEnds: BadEnds,
  ) =>
    targets.of(index, JSON.stringify([scope.filter, scope.versions, scope.builds, spans, badEnds]), () => ({
      soFar: countSums(index, scope, spans.month),
      recent: countMatrix(index, scope, spans.recent, null, null, { sampling: samplingAtOnce(index), badEnds }).total,
    })),
  askSessions: (index: SessionIndex, scope: SessionScope, question: Asking, what: Parameters<typeof askSessions>[3]) =>
    sampled(index, scope, question, (asked) => askSessions(index, scope, asked, what)),
  askActivities: (index: SessionIndex, scope: SessionScope, question: Asking, what: Parameters<typeof askActivities>[3]) =>
    sampled(index, scope, question, (asked) => askActivities(index, scope, asked, what)),
  askNumbersOfSessions: (index: SessionIndex, scope: SessionScope, question: Asking, what: Parameters<typeof askNumbersOfSessions>[3]) =>
    sampled(index, scope, question, (asked) => askNumbersOfSessions(index, scope, asked, what)),
  askRequestTime: (index: SessionIndex, scope: SessionScope, question: Asking, what: Parameters<typeof askRequestTime>[3]) =>
    sampled(index, scope, question, (asked) => askRequestTime(index, scope, asked, what)),
  screens: (index: SessionIndex, scope: SessionScope, span: DaySpan, exactness: Exactness = 'at-once') =>
    countScreens(index, scope, span, samplingFor(index, exactness)),
  requests: (index: SessionIndex, scope: SessionScope, span: DaySpan, exactness: Exactness = 'at-once') =>
    countRequests(index, scope, span, samplingFor(index, exactness)),
  /** Whom the people of a case are compared with. */
  personsByValue: (index: SessionIndex, scope: SessionScope, span: DaySpan) =>
    personsOfScopes.of(index, nameOf(scope, span), () => countPersonsByValue(index, scope, span, { sampling: samplingAtOnce(index) })),
  /** The sessions of each version, that reports are counted against. */
  sessionsOfVersions: (index: SessionIndex, scope: SessionScope, span: DaySpan): SessionsOfVersions =>
    denominators.of(index, nameOf(scope, span), () => countSessionsOfVersions(index, scope, span, mostVersions)),
  versionDays: (index: SessionIndex, scope: SessionScope, span: DaySpan) =>
    days.of(index, nameOf(scope, span), () => countVersionDays(index, scope, span, mostVersions)),
  /** The fields that sessions tell, each with how many values it has. */
  fields: (index: SessionIndex): (SessionField & { readonly values: number })[] =>
    index.fields.map(({ field, dictionary }) => ({ ...field, values: dictionary.length - 1 })),
  /** Rows that are kept in memory; asking it reads them in. */
  size: (index: SessionIndex): number => index.size,
} as const;
export type SessionQuestions = typeof questions & {
  /** Keeps the sums of every app, as before an end. */
  readonly keepAll: (index: SessionIndex) => void;
  /** Looks for what is new before anything is asked, as a test does that has just sent something. */
  readonly lookNow: (index: SessionIndex) => void;
  /** Compares the sums with the database and puts right what differs; gives how many days that were, since it was last asked. */
  readonly mend: (index: SessionIndex) => number;
};

const database = databaseOfThread(workerData);
const indexes = new Map<number, SessionIndexReplica>();

/** The entry of the thread that keeps the sessions. */
export default async function ask({ name, appId, rest }: ThreadTask): Promise<unknown> {
  if (name === 'keepAll') {
    await dropDeleted(database, indexes);
    await Promise.all([...indexes.values()].map((fed) => fed.keep()));
    return;
  }
  const fed = indexes.get(appId) ?? new SessionIndexReplica(database, appId);
  indexes.set(appId, fed);
  await fed.refresh({ now: name === 'lookNow' });
  if (name === 'lookNow') return;
  if (name === 'mend') return (await fed.mend(comparePauseMs)) + fed.takeMended();
  const question = (questions as Questions<SessionIndex>)[name] as (index: SessionIndex, ...all: readonly unknown[]) => unknown;
  return question(fed.index, ...rest);
}
