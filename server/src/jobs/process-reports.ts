import type { Result } from '@rough-ember/core/result';
import type { Database } from '@rough-ember/store/database';
import { finishJob, type Job } from '@rough-ember/store/jobs';
import { type ProcessedReport, saveProcessedReports } from '@rough-ember/store/processing';
import { loadReports } from '@rough-ember/store/reports';
import { idsOfTerms, packTerms, TermsGone } from '@rough-ember/store/terms';
import type { SymbolPlaces } from '../symbols/symbol-store.ts';
import { SymbolFinder } from './symbol-finder.ts';
import type { ProcessedTask, ReportTask } from './tasks.ts';

/** Stacks of this many characters are stored with one statement; a report of more takes one for itself. */
const savedCharacters = 2_000_000;

/**
 * Processes the reports of jobs and stores what was made of them, on a worker thread: a report may be of several megabytes, and
 * nothing of it comes by the thread that serves. Gives the problem of each job in order, null where there was none.
 */
export async function processReports(
  database: Database,
  places: SymbolPlaces,
  jobs: readonly Job[],
  make: (task: ReportTask) => Promise<Result<ProcessedTask, 'failed'>>,
): Promise<(string | null)[]> {
  const stored = await loadReports(
    database,
    jobs.map((job) => job.subjectId),
  );
  const finder = new SymbolFinder(database, places);
  const problems: (string | null)[] = [];
  let processed: Processed[] = [];
  const save = async () => {
    await saveWithTerms(database, processed);
    processed = [];
  };
  for (const job of jobs) {
    problems.push(null);
    const found = stored.get(job.subjectId);
    if (!found) {
      await finishJob(database, job.id);
      continue;
    }
    const { report, body } = found;
    const [{ ourPackages }, filterable, groupingRules, files] = await Promise.all([
      finder.app(job.appId),
      finder.filterable(job.appId),
      finder.groupingRules(job.appId),
      finder.files(job.appId, report, body),
    ]);
    const outcome = await make({ body, ourPackages, filterable, groupingRules, files });
    if (!outcome.ok) {
      problems[problems.length - 1] = outcome.problem.message;
      continue;
    }
    const { terms: named, ...made } = outcome.value;
    processed.push({ row: job.subjectId, appId: job.appId, jobId: job.id, report, ...made, named });
    if (processed.reduce((sum, one) => sum + one.readable.length, 0) > savedCharacters) await save();
  }
  await save();
  return problems;
}

type Processed = Omit<ProcessedReport, 'terms'> & { readonly named: ProcessedTask['terms'] };

async function saveWithTerms(database: Database, processed: readonly Processed[]): Promise<void> {
  const save = async () => {
    const ready: ProcessedReport[] = [];
    for (const { named, ...one } of processed)
      ready.push({ ...one, terms: packTerms(named, await idsOfTerms(database, one.appId, named)) });
    await saveProcessedReports(database, ready);
  };
  try {
    await save();
  } catch (error) {
    if (!(error instanceof TermsGone)) throw error;
    await save();
  }
}
