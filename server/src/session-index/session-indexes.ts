import type { Database } from '@rough-ember/store/database';
import { type IndexThread, startIndexThread } from '../index-thread.ts';
import type { SessionQuestions } from './session-worker.ts';

/** Answers questions about the sessions of apps, as they stood at most a few seconds ago. */
export type SessionIndexes = IndexThread<SessionQuestions>;

export const startSessionIndexes = (database: Database): SessionIndexes =>
  startIndexThread<SessionQuestions>('session-worker', database, { beforeClose: 'keepAll' });
