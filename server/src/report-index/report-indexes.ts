import type { Database } from '@rough-ember/store/database';
import { type IndexThread, startIndexThread } from '../index-thread.ts';
import type { ReportQuestions } from './index-worker.ts';

/** Answers questions about the reports of apps: counts, courses, values and what stands out, exact at the moment of asking. */
export type ReportIndexes = IndexThread<ReportQuestions>;

export const startReportIndexes = (database: Database): ReportIndexes => startIndexThread<ReportQuestions>('index-worker', database);
