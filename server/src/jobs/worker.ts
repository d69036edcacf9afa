import { stat } from 'node:fs/promises';
import { workerData } from 'node:worker_threads';
import { type CommonSteps, commonSteps } from '@rough-ember/core/cases/common-steps';
import { groupingContext, groupReport } from '@rough-ember/core/grouping/group-report';
import type { Report } from '@rough-ember/core/report/report';
import { termsOfReport, wordStep } from '@rough-ember/core/report-index/report-terms';
import { failure, type Result, success } from '@rough-ember/core/result';
import { chooseFile } from '@rough-ember/core/symbolicate/file-set';
import type { ReadableReport } from '@rough-ember/core/symbolicate/readable-report';
import { sourceFrom } from '@rough-ember/core/symbolicate/symbol-source';
import { symbolicate } from '@rough-ember/core/symbolicate/symbolicate';
import type { SymbolIndex } from '@rough-ember/core/symbols/open-index';
import type { Database } from '@rough-ember/store/database';
import { reasonOf } from '@rough-ember/store/database-errors';
import { readBodies } from '@rough-ember/store/reports';
import { reportForm } from '@rough-ember/store/stored-forms';
import { readStored } from '@rough-ember/store/stored-json';
import { passwordProblem } from '../accounts/password-problem.ts';
import { matchReports } from '../alerts/match-reports.ts';
import { databaseOfThread } from '../index-thread.ts';
import { settled } from '../intake/receive.ts';
import { takeBatch, takeFile, takeOtlp } from '../intake/take.ts';
import { previewScrub } from '../privacy/preview-scrub.ts';
import { tryScrub } from '../privacy/try-scrub.ts';
import { lookAtPaths } from '../sequences/look-at-paths.ts';
import { indexFileOnDisk, openIndexOnDisk } from '../symbols/index-file-on-disk.ts';
import { symbolPlaces } from '../symbols/symbol-store.ts';
import { processReports } from './process-reports.ts';
import { rulesOf } from './rules-of.ts';
import type { ProcessedTask, ReportTask, Tasks, TiedIndex } from './tasks.ts';
import { type QuietKind, workOf } from './work/work-of.ts';

/** Indexes that were used last stay open; a build's reports come in crowds. */
const openIndexes = new Map<string, Promise<{ opened: SymbolIndex; sizeBytes: number }>>();
const keptBytes = 400_000_000;

async function openIndex({ paths, part }: TiedIndex): Promise<SymbolIndex> {
  // An index that was made again is another one.
  const made = await stat(`${paths.indexPath}.${part}`).catch(() => null);
  const key = `${paths.indexPath}.${part} ${made?.mtimeMs}`;
  const opened = openIndexes.get(key) ?? openIndexOnDisk(paths, part);
  openIndexes.delete(key);
  openIndexes.set(key, opened);
  opened.catch(() => openIndexes.delete(key));
  const { opened: index } = await opened;
  await closeOldest();
  return index;
}

/** Keeps the memory of open indexes bounded; the one used last always stays. */
async function closeOldest(): Promise<void> {
  const sizes = await Promise.all(
    [...openIndexes].map(async ([key, one]) => ({ key, sizeBytes: (await one.catch(() => null))?.sizeBytes ?? 0 })),
  );
  let total = sizes.reduce((sum, one) => sum + one.sizeBytes, 0);
  for (const { key, sizeBytes } of sizes.slice(0, -1)) {
    if (total <= keptBytes) return;
    openIndexes.delete(key);
    total -= sizeBytes;
  }
}

async function processReport(task: ReportTask): Promise<Result<ProcessedTask, 'failed'>> {
  try {
    const report = readStored(reportForm, task.body);
    const readable = await symbolicateWith(task.files, report, task.ourPackages);
    const { explanation, ...grouping } = groupReport(groupingContext(report), readable, rulesOf(task.groupingRules));
    return success({
      readable: JSON.stringify(readable),
      explanation: JSON.stringify(explanation),
      needs: readable.needs,
      grouping,
      terms: termsOfReport(report, readable, new Set(task.filterable)),
    });
  } catch (error) {
    return failure('failed', error instanceof Error ? error.message : String(error));
  }
}

/**
 * Opens only the files that frames of the report ask for. What one file says may ask for another, as an assembly names
 * its PDB, so it reads until nothing new was asked for.
 */
async function symbolicateWith(files: readonly TiedIndex[], report: Report, ours: ReportTask['ourPackages']): Promise<ReadableReport> {
  const opened = new Map<TiedIndex, SymbolIndex>();
  for (;;) {
    const wanted = new Set<TiedIndex>();
    const source = sourceFrom((kind, tie) => {
      const file = chooseFile(files, kind, tie);
      if (file && !opened.has(file)) wanted.add(file);
      return (file && opened.get(file)?.index) ?? null;
    });
    const readable = symbolicate(report, source, { ours });
    if (wanted.size === 0) return readable;
    for (const file of wanted) opened.set(file, await openIndex(file));
  }
}

async function commonStepsOf(rows: readonly number[]): Promise<CommonSteps> {
  const trails: string[][] = [];
  for await (const bodies of readBodies(database(), rows))
    trails.push(...bodies.map((body) => readStored(reportForm, body).trail.map(wordStep)));
  return commonSteps(trails);
}

let opened: Database | null = null;
/** This thread's own connections to the database, made when one is needed. */
const database = (): Database => {
  opened ??= databaseOfThread(workerData);
  return opened;
};

const tasks: Tasks = {
  takeBatch: (sender, body) => settled(takeBatch(database(), sender, body)),
  takeOtlp: (sender, body, encoding) => settled(takeOtlp(database(), sender, body, encoding)),
  takeFile: (sender, file) => settled(takeFile(database(), sender, file)),
  previewScrub,
  passwordProblem,
  tryScrub: (appId, rules) => tryScrub(database(), appId, rules),
  indexSymbolFile: indexFileOnDisk,
  processReports: (jobs, symbolsFolder) => processReports(database(), symbolPlaces(symbolsFolder), jobs, processReport),
  workJob: (job) => workOf[job.kind as QuietKind](database(), job),
  commonSteps: commonStepsOf,
  lookAtPaths: (about) => lookAtPaths(database(), about),
  matchReports: (...about) => matchReports(database(), ...about),
};

/**
 * The entry of a worker thread: runs the named task. On the way to the other thread an error keeps its words alone, so these say
 * what is known of it, without the statement that an error of the database carries.
 */
export default async function run<Name extends keyof Tasks>({
  name,
  input,
}: {
  name: Name;
  input: Parameters<Tasks[Name]>;
}): Promise<Awaited<ReturnType<Tasks[Name]>>> {
  const task = tasks[name] as (...all: Parameters<Tasks[Name]>) => Awaited<ReturnType<Tasks[Name]>>;
  try {
    return await task(...input);
  } catch (error) {
    throw Object.assign(new Error(reasonOf(error)), { stack: error instanceof Error ? error.stack : undefined });
  }
}
