import type { Database } from '@rough-ember/store/database';
import type { Job, JobKind, jobRules } from '@rough-ember/store/jobs';
import { applyRetention } from './apply-retention.ts';
import { changeGrouping } from './change-grouping.ts';
import { deleteApp, deleteCase } from './delete.ts';
import { indexTerms } from './index-terms.ts';
import { retitleCase } from './retitle-case.ts';
import { sweepUnusedTerms } from './sweep-unused-terms.ts';

/** Kinds of jobs that nobody waits for: they need nothing but the database; each is done on a worker thread and finishes itself. */
export type QuietKind = { [Kind in JobKind]: (typeof jobRules)[Kind]['isUrgent'] extends true ? never : Kind }[JobKind];

export const workOf: Readonly<Record<QuietKind, (database: Database, job: Job) => Promise<void>>> = {
  'index-terms': indexTerms,
  'change-grouping': changeGrouping,
  'retitle-case': retitleCase,
  'sweep-terms': sweepUnusedTerms,
  'apply-retention': applyRetention,
  'delete-case': deleteCase,
  'delete-app': deleteApp,
};
