import type { Database } from '@rough-ember/store/database';
import { finishJob, type Job } from '@rough-ember/store/jobs';
import { sweepTerms } from '@rough-ember/store/terms';

/** Forgets the words that no report of an app uses any more. */
export async function sweepUnusedTerms(database: Database, job: Job): Promise<void> {
  await sweepTerms(database, job.appId);
  await finishJob(database, job.id);
}
