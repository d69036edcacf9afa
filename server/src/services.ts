import type { Database } from '@rough-ember/store/database';
import type { Logger } from 'pino';
import type { Mailer } from './alerts/channels/channel-kind.ts';
import type { ServerKey } from './alerts/server-key.ts';
import type { StandInReceivers } from './alerts/stand-ins.ts';
import type { Changes } from './changes.ts';
import type { Downloads } from './downloads/downloads.ts';
import type { DatabaseHealth } from './health/database-health.ts';
import type { LargeBodies } from './http/large-bodies.ts';
import type { RevisionWatcher } from './http/revision-watcher.ts';
import type { Pressure } from './intake/pressure.ts';
import type { JobRunner } from './jobs/job-runner.ts';
import type { WorkerPool } from './jobs/worker-pool.ts';
import type { Metrics } from './metrics/metrics.ts';
import type { ReportIndexes } from './report-index/report-indexes.ts';
import type { SessionIndexes } from './session-index/session-indexes.ts';
import type { Settings } from './settings.ts';
import type { SymbolStore } from './symbols/symbol-store.ts';

/** Everything an endpoint works with; made once at start and handed to each request. */
export interface Services {
  readonly settings: Settings;
  readonly database: Database;
  readonly symbols: SymbolStore;
  readonly workers: WorkerPool;
  readonly health: DatabaseHealth;
  readonly reports: ReportIndexes;
  readonly sessions: SessionIndexes;
  readonly jobs: JobRunner;
  readonly pressure: Pressure;
  readonly largeBodies: LargeBodies;
  readonly downloads: Downloads;
  readonly changes: Changes;
  readonly revisions: RevisionWatcher;
  /** How mail leaves; null where the settings name no way. */
  readonly mailer: Mailer | null;
  /** What stands in for the servers of others while the demo runs; null otherwise. */
  readonly standIns: StandInReceivers | null;
  /** Encrypts what channels keep secret. */
  readonly serverKey: ServerKey;
  readonly metrics: Metrics;
  readonly log: Logger;
  /** Address under which people and devices reach this server, without a slash at the end. */
  readonly publicUrl: string;
}

/** What answers questions about cases, sessions and figures. */
export type DeskServices = Pick<Services, 'database' | 'reports' | 'sessions'>;
