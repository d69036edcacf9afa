import type { IncomingMessage, ServerResponse } from 'node:http';
import { join } from 'node:path';
import { listApps } from '@rough-ember/store/apps';
import type { Database } from '@rough-ember/store/database';
import { retryFailedOfOtherPrograms } from '@rough-ember/store/failed-reports';
import { migrate } from '@rough-ember/store/migrate';
import type { Logger } from 'pino';
import { startAlertRunner } from './alerts/alert-runner.ts';
import { openMailer } from './alerts/mailer.ts';
import { openServerKey } from './alerts/server-key.ts';
import type { StandInReceivers } from './alerts/stand-ins.ts';
import { answerApiAlone } from './api/api-alone.ts';
import { answerApi } from './api/router.ts';
import { type PageVisit, Visit } from './api/visit.ts';
import { startBackups } from './backup/start-backups.ts';
import { startChanges } from './changes.ts';
import { startComparison } from './compare-figures.ts';
import { openDownloads } from './downloads/downloads.ts';
import { startForwarding } from './forwarding/forward-items.ts';
import { DatabaseHealth } from './health/database-health.ts';
import { startHousekeeping } from './housekeeping.ts';
import { type HttpServer, type RequestOrigin, startHttpServer } from './http/http-server.ts';
import { LargeBodies } from './http/large-bodies.ts';
import { RevisionWatcher } from './http/revision-watcher.ts';
import { Pressure } from './intake/pressure.ts';
import { startJobRunner } from './jobs/job-runner.ts';
import { startWorkerPool } from './jobs/worker-pool.ts';
import { startLog } from './log.ts';
import { hearConflicts } from './metrics/conflicts-of-threads.ts';
import { Metrics } from './metrics/metrics.ts';
import { observeServices } from './metrics/observe-services.ts';
import { startReportIndexes } from './report-index/report-indexes.ts';
import type { Services } from './services.ts';
import { startSessionIndexes } from './session-index/session-indexes.ts';
import type { Settings } from './settings.ts';
import { openSymbolStore } from './symbols/symbol-store.ts';
import { startTicketRunner } from './tickets/ticket-runner.ts';

export interface RunningServer {
  readonly services: Services;
  readonly address: string;
  /** Finishes what was accepted, then stops. */
  stop(): Promise<void>;
}

/** What pages are given with each request, beside it. */
export interface PageLocals {
  /** Begins the visit of a request. */
  visitOf(request: Request): PageVisit;
  /** Answers a request to the API. */
  answerApi(request: Request): Promise<Response>;
}

/** The pages, as Astro's build exports them. */
export type Pages = (
  request: IncomingMessage,
  response: ServerResponse,
  next: (error?: unknown) => void,
  locals: PageLocals,
) => void | Promise<void>;

/** Starts the whole server on a database that answers: schema, worker threads, job queue and HTTP. */
export async function startServer(
  settings: Settings,
  database: Database,
  {
    log = startLog(settings),
    program = 'unnamed',
    pages,
    assetsFolder,
    downloadsFolder,
    standIns = null,
  }: {
    log?: Logger;
    program?: string;
    pages?: Pages;
    assetsFolder?: string;
    downloadsFolder?: string;
    standIns?: StandInReceivers | null;
  } = {},
): Promise<RunningServer> {
  await migrate(database);
  const parts = await startParts(settings, database, { log, program });
  // The port may be any free one, so the address is known only once the server listens.
  const services = {
    ...parts.services,
    downloads: openDownloads(downloadsFolder),
    standIns,
    mailer: openMailer(settings, () => services.publicUrl),
    publicUrl: settings.publicUrl ?? '',
  } as Services & { publicUrl: string };
  let http: HttpServer;
  try {
    const visitsFrom = (origin: RequestOrigin) => (request: Request) => new Visit(services, request, origin);
    const localsOf = (visitOf: ReturnType<typeof visitsFrom>): PageLocals => ({
      visitOf,
      answerApi: (request) => answerApi(visitOf(request), request),
    });
    http = await startHttpServer(services, {
      pages: (request, response, next, origin) =>
        pages ? pages(request, response, next, localsOf(visitsFrom(origin))) : answerApiAlone(request, response, visitsFrom(origin)),
      ...(assetsFolder !== undefined && { assetsFolder }),
    });
  } catch (error) {
    await parts.rest();
    await parts.end();
    throw error;
  }
  const shownHost = settings.host === '0.0.0.0' || settings.host === '::' ? '127.0.0.1' : settings.host;
  const address = `http://${shownHost.includes(':') ? `[${shownHost}]` : shownHost}:${http.port}`;
  services.publicUrl = settings.publicUrl ?? address;
  log.info({ address }, 'serving');
  // What is told holds addresses of this server, which are known from here on.
  const besides = [startAlertRunner(services), startTicketRunner(services), startForwarding(services), startBackups(services)];
  void readIn(services);
  void retryWithThisProgram(services, program);
  return {
    services,
    address,
    stop: async () => {
      services.revisions.stop();
      await Promise.all(besides.map((one) => one.stop()));
      services.mailer?.close();
      await parts.rest();
      await http.close();
      await parts.end();
      await services.changes.flush();
      log.info('stopped');
    },
  };
}

/** Starts all that a server is made of but HTTP: what it keeps in memory, its threads, and what it does by itself. */
async function startParts(settings: Settings, database: Database, { log, program }: { log: Logger; program: string }) {
  const symbols = await openSymbolStore(join(settings.dataFolder, 'symbols'));
  const workers = startWorkerPool(database, { threads: settings.workers });
  const reports = startReportIndexes(database);
  const sessions = startSessionIndexes(database);
  const changes = startChanges(database, log);
  const revisions = new RevisionWatcher(database, log);
  const health = new DatabaseHealth(database);
  const pressure = new Pressure();
  const metrics = new Metrics();
  const conflicts = hearConflicts((errno) => metrics.noteConflict(errno));
  const house = startHousekeeping({ database, symbols, sessions, settings, log });
  const comparison = startComparison({ database, reports, sessions, log });
  const jobs = startJobRunner({ database, symbols, workers, pressure, changes, metrics, log, program });
  observeServices(metrics, { database, settings, health, reports, sessions, log });
  return {
    services: {
      settings,
      database,
      symbols,
      workers,
      health,
      reports,
      sessions,
      jobs,
      pressure,
      largeBodies: new LargeBodies(),
      changes,
      revisions,
      serverKey: openServerKey(settings),
      metrics,
      log,
    },
    /** Does nothing more by itself. */
    rest: async () => {
      comparison.stop();
      await house.stop();
    },
    /** Finishes the jobs at hand, then closes what requests were answered with. */
    end: async () => {
      await jobs.stop();
      await workers.close();
      await health.close();
      await reports.close();
      await sessions.close();
      conflicts.stop();
    },
  };
}

/** What another version of the program could not process, this one may. */
async function retryWithThisProgram({ database, jobs, log }: Services, program: string): Promise<void> {
  try {
    const retried = await retryFailedOfOtherPrograms(database, program);
    if (retried === 0) return;
    log.info({ retried }, 'reports that another version could not process are tried again');
    jobs.wake();
  } catch (error) {
    log.warn({ err: error }, 'reports that failed could not be sent round again');
  }
}

/** Reads the reports and sessions of every app in, so that the first to look at one need not wait for it. */
async function readIn({ database, reports, sessions, log }: Pick<Services, 'database' | 'reports' | 'sessions' | 'log'>): Promise<void> {
  try {
    for (const { id, slug } of await listApps(database)) {
      const startedAt = performance.now();
      const size = await reports.ask('size', id);
      const personDays = await sessions.ask('size', id);
      log.info({ app: slug, reports: size, personDays, ms: Math.round(performance.now() - startedAt) }, 'reports and sessions read in');
    }
  } catch (error) {
    log.warn({ err: error }, 'reports could not be read in before somebody asks for them');
  }
}
