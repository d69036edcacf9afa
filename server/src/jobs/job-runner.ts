import { setTimeout as pause } from 'node:timers/promises';
import type { App } from '@rough-ember/store/apps';
import { findAppById } from '@rough-ember/store/apps';
import { type Database, reasonOf } from '@rough-ember/store/database';
import { listFilterable, loadRunOfReports, saveTermsAgain } from '@rough-ember/store/filterable-attributes';
import { nextRun, readRules, saveRun } from '@rough-ember/store/grouping-changes';
import { finishJob, type Job, leaseRenewedMs, maximumAttempts, postponeJob, renewLeases, takeJobs } from '@rough-ember/store/jobs';
import { type ProcessedReport, saveProcessedReports } from '@rough-ember/store/processing';
import { loadReports, markReportFailed, type StoredReport } from '@rough-ember/store/reports';
import {
  type FoundFile,
  findSymbolFile,
  findSymbolFiles,
  listSplitFiles,
  markSymbolFileReady,
  markSymbolFileRefused,
} from '@rough-ember/store/symbol-files';
import { idsOfTerms, packTerms } from '@rough-ember/store/terms';
import type { Logger } from 'pino';
import type { Changes } from '../changes.ts';
import type { Pressure } from '../intake/pressure.ts';
import type { SymbolFilePaths } from '../symbols/index-file-on-disk.ts';
import type { SymbolStore } from '../symbols/symbol-store.ts';
import type { TiedIndex } from './tasks.ts';
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
  const rest = () =>
    new Promise<void>((resolve) => {
      const timer = setTimeout(resolve, pollMs);
      wakeUp = () => {
        clearTimeout(timer);
        resolve();
      };
      if (awake) wakeUp();
    });

  const work = async () => {
    while (!stopped) {
      awake = false;
      let taken = 0;
      try {
        const pressed = parts.pressure.isHigh;
        if (pressed) await pause(restUnderPressureMs);
        const jobs = await takeJobs(parts.database, pressed ? jobsUnderPressure : jobsARound);
        taken = jobs.length;
        await whileLeased(parts, jobs, () => runJobs(parts, jobs));
      } catch (error) {
        // The database may be away for a moment; leases bring back what was in hand.
        parts.log.error({ err: error }, 'the job queue could not be worked');
      }
      if (taken < jobsUnderPressure && !stopped) await rest();
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
    },
  };
}

/** Keeps the leases of jobs in hand for as long as they take. */
async function whileLeased({ database, log }: JobRunnerParts, jobs: readonly Job[], run: () => Promise<void>): Promise<void> {
  const ids = jobs.map(({ id }) => id);
  const renewing = setInterval(() => {
    renewLeases(database, ids).catch((error: unknown) => log.warn({ err: error }, 'leases of jobs could not be renewed'));
  }, leaseRenewedMs);
  try {
    await run();
  } finally {
    clearInterval(renewing);
  }
}

async function runJobs(parts: JobRunnerParts, taken: readonly Job[]): Promise<void> {
  const jobs = taken.filter((job) => job.attempts <= maximumAttempts);
  for (const job of taken)
    if (job.attempts > maximumAttempts) await giveUp(parts, job, `its processing ended without a word ${maximumAttempts} times`);
  const reports = jobs.filter((job) => job.kind === 'process-report');
  const batches: Job[][] = [];
  for (let at = 0; at < reports.length; at += reportsATask) batches.push(reports.slice(at, at + reportsATask));
  await Promise.all([
    ...jobs.filter((job) => job.kind === 'index-symbol-file').map((job) => settle(parts, job, () => indexSymbolFile(parts, job))),
    ...jobs.filter((job) => job.kind === 'index-terms').map((job) => settle(parts, job, () => indexTerms(parts, job))),
    ...jobs.filter((job) => job.kind === 'change-grouping').map((job) => settle(parts, job, () => changeGrouping(parts, job))),
    ...batches.map((batch) => processReports(parts, batch)),
  ]);
  for (const { appId } of taken) parts.changes.note(appId);
}

/** Runs one job; what fails is tried again later, and given up with its reason after a few attempts. */
async function settle(parts: JobRunnerParts, job: Job, run: () => Promise<void>): Promise<void> {
  try {
    await run();
  } catch (error) {
    parts.log.warn({ err: error, job }, 'a job failed');
    if (job.attempts < maximumAttempts) await postponeJob(parts.database, job);
    else await giveUp(parts, job, reasonOf(error));
  }
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
  const indexed = await workers.run('indexSymbolFile', pathsOf(symbols, file), splitPaths);
  const untied = indexed.ok && file.version === '' && indexed.value.every((part) => part.symbolId === null && part.kind !== 'split');
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

/** Finds the terms of a run of reports again, since the app has made more of them filterable, or less. */
async function indexTerms({ database, workers }: JobRunnerParts, job: Job): Promise<void> {
  const [filterable, bodies] = await Promise.all([
    listFilterable(database, job.appId),
    loadRunOfReports(database, job.appId, job.subjectId),
  ]);
  const found = await workers.run(
    'termsOfReports',
    bodies.map(({ body, readable }) => ({ body, readable, filterable })),
  );
  const ids = await idsOfTerms(database, job.appId, found.flat());
  const packed = bodies.map(({ row }, at) => ({ row, terms: packTerms(found[at] ?? [], ids) }));
  await saveTermsAgain(database, job.appId, packed, job.id);
}

/** Groups the next run of reports under rules that are previewed or applied. */
async function changeGrouping({ database, workers }: JobRunnerParts, job: Job): Promise<void> {
  const run = await nextRun(database, job.subjectId);
  if (!run) return finishJob(database, job.id);
  const groupings = await workers.run(
    'regroup',
    run.reports.map(({ body, readable }) => ({ body, readable })),
    run.change.rules,
  );
  await saveRun(database, run, groupings, job.id);
}

async function processReports(parts: JobRunnerParts, jobs: readonly Job[]): Promise<void> {
  const { database, workers } = parts;
  try {
    const stored = await loadReports(
      database,
      jobs.map((job) => job.subjectId),
    );
    const present = jobs.filter((job) => stored.has(job.subjectId));
    for (const job of jobs) if (!stored.has(job.subjectId)) await finishJob(database, job.id);
    const finder = new SymbolFinder(parts);
    const tasks = await Promise.all(
      present.map(async (job) => {
        const { report, body } = stored.get(job.subjectId) as StoredReport;
        const [{ ourPackages }, filterable, groupingRules] = await Promise.all([
          finder.app(job.appId),
          finder.filterable(job.appId),
          finder.groupingRules(job.appId),
        ]);
        return { body, ourPackages, filterable, groupingRules, files: await finder.files(job.appId, report, body) };
      }),
    );
    const outcomes = await workers.run('processReports', tasks);
    const processed: ProcessedReport[] = [];
    for (const [index, job] of present.entries()) {
      await settle(parts, job, async () => {
        const outcome = outcomes[index];
        if (!outcome?.ok) throw new Error(outcome?.problem.message ?? 'the worker gave no outcome');
        const { report } = stored.get(job.subjectId) as StoredReport;
        const { terms: found, ...made } = outcome.value;
        const terms = packTerms(found, await idsOfTerms(database, job.appId, found));
        processed.push({ row: job.subjectId, appId: job.appId, jobId: job.id, report, ...made, terms });
      });
    }
    await saveProcessedReports(database, processed);
  } catch (error) {
    // Something took the whole task down: each report is tried alone, so that the one that does it is found.
    if (jobs.length > 1) for (const job of jobs) await processReports(parts, [job]);
    else
      await settle(parts, jobs[0] as Job, () => {
        throw error;
      });
  }
}

const pathsOf = (symbols: SymbolStore, { sha256, fileName }: Pick<FoundFile, 'sha256' | 'fileName'>): SymbolFilePaths => ({
  originalPath: symbols.originalPath(sha256),
  indexPath: symbols.indexPath(sha256),
  fileName,
});

/** Finds apps and symbol files, each asked for once in a batch. */
class SymbolFinder {
  private readonly apps = new Map<number, Promise<App>>();
  private readonly found = new Map<string, Promise<TiedIndex[]>>();
  private readonly attributes = new Map<number, Promise<string[]>>();
  private readonly rules = new Map<number, Promise<string>>();

  constructor(private readonly parts: JobRunnerParts) {}

  app(id: number): Promise<App> {
    return remember(this.apps, id, async () => {
      const app = await findAppById(this.parts.database, id);
      if (!app) throw new Error(`there is no app ${id}`);
      return app;
    });
  }

  /** The attributes that an app has made filterable. */
  filterable(appId: number): Promise<string[]> {
    return remember(this.attributes, appId, () => listFilterable(this.parts.database, appId));
  }

  /** The grouping rules of an app, as they are written. */
  groupingRules(appId: number): Promise<string> {
    return remember(this.rules, appId, () => readRules(this.parts.database, appId));
  }

  /** All indexes that may symbolicate a report: those of its build, and those with an id that its frames or images print. */
  files(appId: number, { version, build }: { version: string; build: string }, body: string): Promise<TiedIndex[]> {
    const symbolIds = [...new Set([...body.matchAll(printedId)].map((match) => (match[1] ?? match[2] ?? match[3]) as string))].sort();
    const wanted = { appId, version, build, symbolIds };
    return remember(this.found, JSON.stringify(wanted), async () => {
      const files = await findSymbolFiles(this.parts.database, wanted);
      return files.map(({ sha256, fileName, ...tied }) => ({ ...tied, paths: pathsOf(this.parts.symbols, { sha256, fileName }) }));
    });
  }
}

/** Ids as they stand in a stored report: of images, frames and modules, and the one an obfuscator puts in place of a file. */
const printedId = /"symbolId":"([0-9a-fA-F-]{1,200})"|"r8-map-id-([0-9a-fA-F]{1,200})"|"module":"([0-9a-fA-F]{32})[#"]/g;

function remember<Key, Value>(known: Map<Key, Promise<Value>>, key: Key, find: () => Promise<Value>): Promise<Value> {
  let value = known.get(key);
  if (!value) {
    value = find();
    known.set(key, value);
  }
  return value;
}
