import { groupingContext, groupReport } from '@rough-ember/core/grouping/group-report';
import { loadForTitle, saveTitle } from '@rough-ember/store/case-titles';
import type { Database } from '@rough-ember/store/database';
import { readRules } from '@rough-ember/store/grouping-changes';
import { finishJob, type Job } from '@rough-ember/store/jobs';
import { readableForm, reportForm } from '@rough-ember/store/stored-forms';
import { readStored } from '@rough-ember/store/stored-json';
import { rulesOf } from '../rules-of.ts';

/** Makes the words of a case again of the reports that are in it, since one of those they were made of has gone. */
export async function retitleCase(database: Database, job: Job): Promise<void> {
  const found = await loadForTitle(database, job.subjectId);
  if (found) {
    const rules = rulesOf(await readRules(database, job.appId));
    const titles = found.reports.map(({ body, readable }) =>
      groupReport(groupingContext(readStored(reportForm, body)), readStored(readableForm, readable), rules),
    );
    // A case may hold reports of several keys; the one it is known by stays where it can.
    const title = titles.find(({ what, where }) => what === found.what && where === found.where) ?? titles[0] ?? null;
    await saveTitle(database, job.subjectId, title);
  }
  await finishJob(database, job.id);
}
