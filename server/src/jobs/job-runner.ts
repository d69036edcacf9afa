import { setTimeout as pause } from 'node:timers/promises';
import { familyOf } from '@rough-ember/core/symbols/families';
import type { Database } from '@rough-ember/store/database';
import { databaseFault, reasonOf } from '@rough-ember/store/database-errors';
import {
  finishJob,
  giveBackUntried,
  isGivenUp,
  type Job,
  jobKinds,
  jobRules,
  leaseRenewedMs,
  mayTryAgain,
  postponeJob,
  renewLeases,
  takeJobs,
  urgentKinds,
} from '@rough-ember/store/jobs';
import { markReportFailed } from '@rough-ember/store/reports';
import { markSymbolFileReady, markSymbolFileRefused } from '@rough-ember/store/symbol-file-states';
import { findSymbolFile, listSplitFiles } from '@rough-ember/store/symbol-files';
import type { Logger } from 'pino';
import type { Changes } from '../changes.ts';
import type { Pressure } from '../intake/pressure.ts';
import { longJobMs, type Metrics } from '../metrics/metrics.ts';
import type { SymbolStore } from '../symbols/symbol-store.ts';
import { pathsIn } from './symbol-finder.ts';
import type { WorkerPool } from './worker-pool.ts';

export interface JobRunner {
  /** Looks for jobs at once instead of at the next round. */
  wake(): void;
  /** Finishes the jobs in hand and takes no more. */
  stop(): Promise<void>;
}

export interface JobRunnerParts {
  readonly database: Database;
  readonly symbols: SymbolStore;
  readonly workers: WorkerPool;
  readonly pressure: Pick<Pressure, 'isHigh'>;
  readonly changes: Changes;
  readonly metrics: Pick<Metrics, 'noteJob'>;
  readonly log: Logger;
  /** Names this state of the program: what it cannot process, another may. */
  readonly program: string;
}

const pollMs = 500;
const jobsARound = 48;
/** While intake is pressed, the queue goes on, but in small steps with a rest between them. */
const jobsUnderPressure = 8;
const restUnderPressureMs = 60;
const reportsATask = 12;

/** Works the queue until it is stopped. Several processes may run one each against the same database. */
export function startJobRunner(parts: JobRunnerParts): JobRunner {
  let stopped = false;
  let wakeUp = () => {};
  let awake = false;
  /** Quiet work that goes on beside the rounds; while it does, no more of it is taken. */
  let beside: Promise<void> | null = null;
  const rest = () =>
    new Promise<void>((resolve) => {
      const timer = setTimeout(resolve, pollMs);
      wakeUp = () => {
        clearTimeout(timer);
        resolve();
      };
      if (awake) wakeUp();
    });

  const owed = new Set<number>();
  const work = async () => {
    while (!stopped) {
      awake = false;
      let taken = 0;
      try {
        const back = [...owed];
        await giveBackUntried(parts.database, back);
        for (const id of back) owed.delete(id);
        const pressed = parts.pressure.isHigh;
        if (pressed) await pause(restUnderPressureMs);
        const jobs = await takeJobs(parts.database, pressed ? jobsUnderPressure : jobsARound, beside ? urgentKinds : jobKinds);
        taken = jobs.length;
        const quiet = jobs.filter(({ kind }) => !jobRules[kind].isUrgent);
        if (quiet.length > 0)
          beside = workBeside({ ...parts, owed }, quiet).finally(() => {
            beside = null;
            awake = true;
            wakeUp();
          });
        const urgent = jobs.filter(({ kind }) => jobRules[kind].isUrgent);
        await whileLeased(parts, urgent, (inHand) => runJobs({ ...parts, owed, inHand }, urgent));
      } catch (error) {
        // The database may be away for a moment; leases bring back what was in hand.
        parts.log.error({ err: error }, 'the job queue could not be worked');
      }
      if (taken === 0 && !stopped) await rest();
    }
  };
  const finished = work();
  return {
    wake: () => {
      awake = true;
      wakeUp();
    },
    stop: async () => {
      stopped = true;
      wakeUp();
      await finished;
      await beside;
    },
  };
}

/** With the jobs that the database itself stood in the way of, which are given back once it answers. */
type Round = JobRunnerParts & { readonly owed: Set<number> };
/** With the jobs that are being worked on: one that was given back is due when it was said to be. */
type JobsInHand = Round & { readonly inHand: Set<number> };

/** Keeps the leases of jobs in hand for as long as they take. */
async function whileLeased(
  { database, log }: JobRunnerParts,
  jobs: readonly Job[],
  run: (inHand: Set<number>) => Promise<void>,
): Promise<void> {
  const inHand = new Set(jobs.map(({ id }) => id));
  const renewing = setInterval(() => {
    renewLeases(database, [...inHand]).catch((error: unknown) => log.warn({ err: error }, 'leases of jobs could not be renewed'));
  }, leaseRenewedMs);
  try {
    await run(inHand);
  } finally {
    clearInterval(renewing);
  }
}

/** Does what nobody waits for, one after the other: it may take seconds, and reports that arrive meanwhile are not to wait for it. */
async function workBeside(parts: Round, jobs: readonly Job[]): Promise<void> {
  try {
    await whileLeased(parts, jobs, async (inHand) => {
      for (const job of jobs) {
        if (isGivenUp(job)) await giveUp(parts, job, endedWithoutAWord(job));
        else await settle({ ...parts, inHand }, job, () => parts.workers.run('workJob', job));
        inHand.delete(job.id);
        parts.changes.note(job.appId);
      }
    });
  } catch (error) {
    parts.log.error({ err: error }, 'the job queue could not be worked');
  }
}

const endedWithoutAWord = ({ kind }: Job) => `its processing ended without a word ${jobRules[kind].attempts} times`;

async function runJobs(parts: JobsInHand, taken: readonly Job[]): Promise<void> {
  const jobs = taken.filter((job) => !isGivenUp(job));
  for (const job of taken) if (isGivenUp(job)) await giveUp(parts, job, endedWithoutAWord(job));
  const reports = jobs.filter((job) => job.kind === 'process-report');
  const batches: Job[][] = [];
  for (let at = 0; at < reports.length; at += reportsATask) batches.push(reports.slice(at, at + reportsATask));
  await Promise.all([
    ...jobs.filter((job) => job.kind === 'index-symbol-file').map((job) => settle(parts, job, () => indexSymbolFile(parts, job))),
    ...batches.map((batch) => processReports(parts, batch)),
  ]);
  for (const { appId } of taken) parts.changes.note(appId);
}

/**
 * Runs one job; what fails is tried again later, and given up with its reason after a few attempts. A database that is away or full
 * is no fault of the job, and ends no patience with it.
 */
async function settle(parts: JobsInHand, job: Job, run: () => Promise<void>): Promise<void> {
  const began = performance.now();
  try {
    await run();
    noteDone(parts, [job], performance.now() - began);
  } catch (error) {
    parts.metrics.noteJob(job.kind, 'failed', performance.now() - began);
    parts.log.warn({ err: error, job }, 'a job failed');
    parts.inHand.delete(job.id);
    if (await isDatabaseAtFault(parts, error)) parts.owed.add(job.id);
    else if (mayTryAgain(job)) await postponeJob(parts.database, job);
    else await giveUp(parts, job, reasonOf(error));
  }
}

/** Counts jobs that were worked together, and tells of those that took long. */
function noteDone({ metrics, log }: JobRunnerParts, jobs: readonly Job[], ms: number): void {
  for (const { kind } of jobs) metrics.noteJob(kind, 'done', ms / jobs.length);
  if (ms > longJobMs) log.warn({ jobs: jobs.slice(0, 5), count: jobs.length, ms: Math.round(ms) }, 'jobs took long');
}

/**
 * Whether the database stood in the way of a job. One that answers again at once may have ended the connection for what the job sent
 * it, as a statement that is too large: then the job counts as tried, and is tried without the others.
 */
async function isDatabaseAtFault({ database }: JobRunnerParts, error: unknown): Promise<boolean> {
  const fault = databaseFault(error);
  if (fault !== 'away') return fault === 'full';
  return database.raw('SELECT 1').then(
    () => false,
    () => true,
  );
}

/** What a job was about is kept, with the reason, and can be sent round again. */
async function giveUp({ database, program }: JobRunnerParts, job: Job, problem: string): Promise<void> {
  if (job.kind === 'process-report') await markReportFailed(database, job.subjectId, { problem, program });
  else if (job.kind === 'index-symbol-file') await markSymbolFileRefused(database, job.subjectId, `it could not be indexed: ${problem}`);
  await finishJob(database, job.id);
}

async function indexSymbolFile({ database, symbols, workers, log }: JobRunnerParts, job: Job): Promise<void> {
  const file = await findSymbolFile(database, job.subjectId);
  if (!file) return finishJob(database, job.id);
  const splits = await listSplitFiles(database, file.appId);
  const splitPaths = splits.map(({ sha256 }) => symbols.originalPath(sha256));
  const indexed = await workers.run('indexSymbolFile', pathsIn(symbols, file), splitPaths);
  const untied =
    indexed.ok && file.version === '' && indexed.value.every((part) => part.symbolId === null && !familyOf(part.kind).isTiedByContent);
  if (untied) {
    await markSymbolFileRefused(
      database,
      file.id,
      'the file carries no id, so only version and build can tie it to what runs: upload it again with both',
    );
    await finishJob(database, job.id);
  } else if (indexed.ok) {
    const again = await markSymbolFileReady(database, file, indexed.value, job.id);
    log.info({ file: file.fileName, version: file.version, build: file.build, reports: again }, 'symbol file indexed');
  } else {
    await markSymbolFileRefused(database, file.id, indexed.problem.message);
    await finishJob(database, job.id);
  }
}

async function processReports(parts: JobsInHand, jobs: readonly Job[]): Promise<void> {
  try {
    const began = performance.now();
    const problems = await parts.workers.run('processReports', jobs, parts.symbols.folder);
    const done = jobs.filter((_, index) => problems[index] == null);
    noteDone(parts, done, performance.now() - began);
    for (const [index, job] of jobs.entries()) {
      const problem = problems[index];
      if (problem != null) await settle(parts, job, () => Promise.reject(new Error(problem)));
    }
  } catch (error) {
    // Something took the whole task down: each report is tried alone, so that the one that does it is found.
    if (jobs.length > 1 && !(await isDatabaseAtFault(parts, error))) for (const job of jobs) await processReports(parts, [job]);
    else for (const job of jobs) await settle(parts, job, () => Promise.reject(error));
  }
}
