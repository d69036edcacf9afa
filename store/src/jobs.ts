import { type Database, inTransaction } from './database.ts';

/** How the queue treats jobs of a kind. */
interface JobKindRules {
  /** Somebody waits for it; what nobody waits for is done beside, one after the other. */
  readonly isUrgent: boolean;
  /** After so long without a sign of life whoever took it is believed dead, and it is taken again. */
  readonly leaseSeconds: number;
  /** A job taken more often than this is given up, whatever ended the attempts; whoever takes it then records why. */
  readonly attempts: number;
}

const urgent = { isUrgent: true, leaseSeconds: 60, attempts: 5 } as const satisfies JobKindRules;
const quiet = { isUrgent: false, leaseSeconds: 60, attempts: 5 } as const satisfies JobKindRules;

/** Every kind of job. What is done for each stands in the server's table of their work. */
export const jobRules = {
  'process-report': urgent,
  'index-symbol-file': urgent,
  'index-terms': quiet,
  'change-grouping': quiet,
  'retitle-case': quiet,
  'sweep-terms': quiet,
  'apply-retention': quiet,
  'delete-case': quiet,
  'delete-app': quiet,
} as const satisfies Readonly<Record<string, JobKindRules>>;
export type JobKind = keyof typeof jobRules;
export const jobKinds = Object.keys(jobRules) as JobKind[];
/** The kinds that somebody waits for. */
export const urgentKinds = jobKinds.filter((kind) => jobRules[kind].isUrgent);

/** Seconds of the lease of a row, by its kind. */
const leaseOfRow = `CASE kind ${jobKinds.map((kind) => `WHEN '${kind}' THEN ${jobRules[kind].leaseSeconds}`).join(' ')} ELSE 60 END`;

export interface Job {
  readonly id: number;
  readonly kind: JobKind;
  readonly appId: number;
  readonly subjectId: number;
  /** Counts this attempt. */
  readonly attempts: number;
}

/** Lower goes first: a report someone waits for before the thousands that a late symbol file sends round again. */
export const jobPriorities = { symbols: 1, arrived: 5, again: 9 } as const;
export type JobPriority = keyof typeof jobPriorities;

/** Whether a job was taken so often that it is given up. */
export const isGivenUp = ({ kind, attempts }: Pick<Job, 'kind' | 'attempts'>): boolean => attempts > jobRules[kind].attempts;
/** Whether it may be tried once more. */
export const mayTryAgain = ({ kind, attempts }: Pick<Job, 'kind' | 'attempts'>): boolean => attempts < jobRules[kind].attempts;

/** A job that was taken so often without an end may be one that ends whole processes. */
const suspectAttempts = 2;
const suspectsFirst = 0.05;
/** How often leases of jobs in hand are kept up: three times within the shortest. */
export const leaseRenewedMs = (Math.min(...jobKinds.map((kind) => jobRules[kind].leaseSeconds)) * 1000) / 3;

/** Queues one job for each subject; inside a transaction it appears together with what it is about. */
export async function queueJobs(
  database: Database,
  job: { kind: JobKind; appId: number; priority: JobPriority },
  subjectIds: readonly number[],
): Promise<void> {
  if (subjectIds.length === 0) return;
  await database('jobs').insert(
    subjectIds.map((subjectId) => ({
      kind: job.kind,
      app_id: job.appId,
      subject_id: subjectId,
      priority: jobPriorities[job.priority],
    })),
  );
}

/** Queues a job for a subject unless one waits that has not begun: it will do the same. */
export async function queueOnce(
  database: Database,
  job: { kind: JobKind; appId: number; priority: JobPriority },
  subjectId: number,
): Promise<void> {
  const waiting = await database('jobs').where({ kind: job.kind, subject_id: subjectId, attempts: 0 }).first('id');
  if (!waiting) await queueJobs(database, job, [subjectId]);
}

/**
 * Takes up to `limit` jobs that are due and leases them: whoever dies with a job leaves it to the next after the
 * lease. Several processes may call this at once; each job goes to one of them. A kind that is not named is left to others.
 */
export async function takeJobs(database: Database, limit: number, kinds: readonly JobKind[] = jobKinds): Promise<Job[]> {
  // Now and then first, or they would wait for as long as new jobs keep coming.
  const jobs = Math.random() < suspectsFirst ? [] : await take(database, { limit, kinds, suspects: false });
  // What ended its workers before is tried alone, so that it takes no other job with it.
  if (jobs.length > 0) return jobs;
  const suspect = await take(database, { limit: 1, kinds, suspects: true });
  return suspect.length > 0 ? suspect : take(database, { limit, kinds, suspects: false });
}

async function take(
  database: Database,
  { limit, kinds, suspects }: { limit: number; kinds: readonly JobKind[]; suspects: boolean },
): Promise<Job[]> {
  return inTransaction(database, async (transaction) => {
    const rows: Job[] = await transaction('jobs')
      .whereRaw('run_after <= UTC_TIMESTAMP(3)')
      // A kind that this program does not know is left to those that do.
      .whereIn('kind', kinds)
      .modify((due) => void (suspects ? due.where('attempts', '>=', suspectAttempts) : due.where('attempts', '<', suspectAttempts)))
      .orderBy(['priority', 'id'])
      .limit(limit)
      .forUpdate()
      .skipLocked()
      .select({ id: 'id', kind: 'kind', appId: 'app_id', subjectId: 'subject_id', attempts: 'attempts' });
    if (rows.length === 0) return [];
    await transaction('jobs')
      .whereIn(
        'id',
        rows.map((row) => row.id),
      )
      .update({
        attempts: transaction.raw('attempts + 1'),
        run_after: transaction.raw(`UTC_TIMESTAMP(3) + INTERVAL (${leaseOfRow}) SECOND`),
      });
    return rows.map((row) => ({ ...row, attempts: row.attempts + 1 }));
  });
}

/** Keeps jobs that take longer than a lease from being taken by others. */
export async function renewLeases(database: Database, ids: readonly number[]): Promise<void> {
  await database('jobs')
    .whereIn('id', ids)
    .update({ run_after: database.raw(`UTC_TIMESTAMP(3) + INTERVAL (${leaseOfRow}) SECOND`) });
}

export async function finishJob(database: Database, id: number): Promise<void> {
  await database('jobs').where({ id }).delete();
}

/** Gives a job back that has come some way and has more to do: it counts as not tried yet. */
export async function goOnLater(database: Database, job: Job): Promise<void> {
  await database('jobs')
    .where({ id: job.id })
    .update({ attempts: 0, run_after: database.raw('UTC_TIMESTAMP(3)') });
}

/** Gives a job back, to be tried again after a pause that doubles with each attempt. */
export async function postponeJob(database: Database, job: Job): Promise<void> {
  await database('jobs')
    .where({ id: job.id })
    .update({ run_after: database.raw('UTC_TIMESTAMP(3) + INTERVAL ? SECOND', [2 ** job.attempts]) });
}

/** Gives jobs back that the database itself stood in the way of: they count as not tried, and rest for a moment. */
export async function giveBackUntried(database: Database, ids: readonly number[]): Promise<void> {
  if (ids.length === 0) return;
  await database('jobs')
    .whereIn('id', ids)
    .where('attempts', '>', 0)
    .update({ attempts: database.raw('attempts - 1'), run_after: database.raw('UTC_TIMESTAMP(3) + INTERVAL 2 SECOND') });
}

export async function countJobs(database: Database, appId: number): Promise<Record<JobKind, number>> {
  const rows: { kind: JobKind; count: number }[] = await database('jobs')
    .where({ app_id: appId })
    .groupBy('kind')
    .select('kind')
    .count({ count: '*' });
  return Object.fromEntries(jobKinds.map((kind) => [kind, Number(rows.find((row) => row.kind === kind)?.count ?? 0)])) as Record<
    JobKind,
    number
  >;
}

/** How many jobs of all apps wait, and since when the oldest is due, by kind; kinds of which none waits are told with 0. */
export async function jobsWaiting(database: Database): Promise<{ kind: JobKind; count: number; oldestMs: number }[]> {
  const [rows] = (await database.raw(
    'SELECT kind, COUNT(*) AS count, GREATEST(0, TIMESTAMPDIFF(MICROSECOND, MIN(run_after), UTC_TIMESTAMP(3)) DIV 1000) AS oldestMs FROM jobs GROUP BY kind',
  )) as [{ kind: JobKind; count: number; oldestMs: number | string }[]];
  return jobKinds.map((kind) => {
    const found = rows.find((row) => row.kind === kind);
    return { kind, count: Number(found?.count ?? 0), oldestMs: Number(found?.oldestMs ?? 0) };
  });
}

/** Reports of a case that wait to be named again. */
export async function countReportsInWork(database: Database, caseId: number): Promise<number> {
  const [row] = await database('jobs')
    .join('reports', 'reports.id', 'jobs.subject_id')
    .where({ 'jobs.kind': 'process-report', 'reports.case_id': caseId })
    .count({ count: '*' });
  return Number(row?.count);
}

/** Jobs of all apps, those in hand among them; 0 when everything that was accepted is processed. */
export async function countAllJobs(database: Database): Promise<number> {
  const [row] = await database('jobs').count({ count: '*' });
  return Number(row?.count);
}
