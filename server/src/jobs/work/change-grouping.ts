import { groupingContext, groupReport } from '@rough-ember/core/grouping/group-report';
import type { Database } from '@rough-ember/store/database';
import { nextRun, saveRun } from '@rough-ember/store/grouping-changes';
import { finishJob, type Job } from '@rough-ember/store/jobs';
import { readableForm, reportForm } from '@rough-ember/store/stored-forms';
import { readStored } from '@rough-ember/store/stored-json';
import { rulesOf } from '../rules-of.ts';

/** Groups the next run of reports under rules that are previewed or applied. */
export async function changeGrouping(database: Database, job: Job): Promise<void> {
  const run = await nextRun(database, job.subjectId);
  if (!run) return finishJob(database, job.id);
  const rules = rulesOf(run.change.rules);
  const groupings = run.reports.map(({ body, readable }) =>
    groupReport(groupingContext(readStored(reportForm, body)), readStored(readableForm, readable), rules),
  );
  await saveRun(database, run, groupings, job.id);
}
