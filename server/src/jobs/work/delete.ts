import type { Database } from '@rough-ember/store/database';
import { deletePartOfApp } from '@rough-ember/store/delete-app';
import { deleteEmptyCase, deleteReportsOfCase } from '@rough-ember/store/delete-reports';
import { finishJob, goOnLater, type Job } from '@rough-ember/store/jobs';

/** A job does so much and leaves the rest to the next turn, so that others come in between. */
const workedMs = 5_000;

/** Deletes the reports of a case that nobody sees any more, and then the case. */
export async function deleteCase(database: Database, job: Job): Promise<void> {
  const end = performance.now() + workedMs;
  while ((await deleteReportsOfCase(database, job.appId, job.subjectId)) > 0) if (performance.now() > end) return goOnLater(database, job);
  await deleteEmptyCase(database, job.subjectId);
  await finishJob(database, job.id);
}

/** Deletes what an app holds that nobody sees any more, and then the app. */
export async function deleteApp(database: Database, job: Job): Promise<void> {
  const end = performance.now() + workedMs;
  while (!(await deletePartOfApp(database, job.appId))) if (performance.now() > end) return goOnLater(database, job);
}
