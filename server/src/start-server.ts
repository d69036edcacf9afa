import { join } from 'node:path';
import { type Database, migrate } from '@rough-ember/store/database';
import { type Logger, pino } from 'pino';
import { startChanges } from './changes.ts';
import { startHousekeeping } from './housekeeping.ts';
import { type HttpServer, type PageHandler, startHttpServer } from './http/http-server.ts';
import { RevisionWatcher } from './http/revision-watcher.ts';
import { Pressure } from './intake/pressure.ts';
import { startJobRunner } from './jobs/job-runner.ts';
import { startWorkerPool } from './jobs/worker-pool.ts';
import type { Services } from './services.ts';
import type { Settings } from './settings.ts';
import { openSymbolStore } from './symbols/symbol-store.ts';

export interface RunningServer {
  readonly services: Services;
  readonly address: string;
  /** Finishes what was accepted, then stops. */
  stop(): Promise<void>;
}

/** Starts the whole server on a database that answers: schema, worker threads, job queue and HTTP. */
export async function startServer(
  settings: Settings,
  database: Database,
  { log = pino({ level: settings.logLevel }), ...web }: { log?: Logger; pages?: PageHandler; assetsFolder?: string } = {},
): Promise<RunningServer> {
  await migrate(database);
  const symbols = await openSymbolStore(join(settings.dataFolder, 'symbols'));
  const workers = startWorkerPool({ threads: settings.workers });
  const changes = startChanges(database, log);
  const revisions = new RevisionWatcher(database, log);
  const pressure = new Pressure();
  const house = startHousekeeping(database, symbols, log);
  const jobs = startJobRunner({ database, symbols, workers, pressure, changes, log });
  // The port may be any free one, so the address is known only once the server listens.
  const services = { settings, database, symbols, workers, jobs, pressure, changes, revisions, log, publicUrl: settings.publicUrl ?? '' };
  let http: HttpServer;
  try {
    http = await startHttpServer(services, web);
  } catch (error) {
    await house.stop();
    await jobs.stop();
    await workers.close();
    throw error;
  }
  const shownHost = settings.host === '0.0.0.0' || settings.host === '::' ? '127.0.0.1' : settings.host;
  const address = `http://${shownHost.includes(':') ? `[${shownHost}]` : shownHost}:${http.port}`;
  services.publicUrl = settings.publicUrl ?? address;
  log.info({ address }, 'serving');
  return {
    services,
    address,
    stop: async () => {
      revisions.stop();
      await house.stop();
      await http.close();
      await jobs.stop();
      await workers.close();
      await changes.flush();
      log.info('stopped');
    },
  };
}
