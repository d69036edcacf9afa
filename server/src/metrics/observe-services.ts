import { statfs } from 'node:fs/promises';
import { listApps } from '@rough-ember/store/apps';
import { lastBackups } from '@rough-ember/store/backups';
import { countForwardQueue } from '@rough-ember/store/forwards';
import { jobsWaiting } from '@rough-ember/store/jobs';
import { countWaitingMessages } from '@rough-ember/store/messages';
import { schemaVersion } from '@rough-ember/store/migrate';
import { listTableSizes } from '@rough-ember/store/table-sizes';
import { Gauge } from 'prom-client';
import { serverVersion } from '../server-version.ts';
import type { Services } from '../services.ts';
import type { Metrics } from './metrics.ts';

type Observed = Pick<Services, 'database' | 'settings' | 'health' | 'reports' | 'sessions' | 'log'>;

interface Observation {
  readonly name: string;
  readonly help: string;
  readonly labels: readonly string[];
  /** What is so at the moment; nothing where that cannot be found out. */
  readonly look: (services: Observed) => Promise<readonly (readonly [labels: Readonly<Record<string, string>>, value: number])[]>;
}

const seconds = (ms: number): number => Math.max(0, ms / 1_000);

/** Sizes are looked up of every table; so often is enough. */
const sizesEveryMs = 60_000;

const observations: readonly Observation[] = [
  {
    name: 'ember_build_info',
    help: '1, with the version of the server and of its schema',
    labels: ['version', 'schema'],
    look: async ({ database }) => [[{ version: serverVersion, schema: String(await schemaVersion(database)) }, 1]],
  },
  {
    name: 'ember_database_ready',
    help: '1 while the database takes changes, by how it stands',
    labels: ['state'],
    look: async ({ health }) => {
      const state = await health.check();
      return [[{ state }, state === 'ready' ? 1 : 0]];
    },
  },
  {
    name: 'ember_database_connections',
    help: 'Connections of the main thread, and how many wait for one',
    labels: ['state'],
    look: async ({ database }) => {
      const { pool } = database.client;
      return [
        [{ state: 'used' }, pool.numUsed()],
        [{ state: 'free' }, pool.numFree()],
        [{ state: 'awaited' }, pool.numPendingAcquires()],
      ];
    },
  },
  {
    name: 'ember_jobs_waiting',
    help: 'Jobs of the queue, by kind',
    labels: ['kind'],
    look: async ({ database }) => (await jobsWaiting(database)).map(({ kind, count }) => [{ kind }, count]),
  },
  {
    name: 'ember_oldest_job_seconds',
    help: 'How long the oldest job of a kind has waited',
    labels: ['kind'],
    look: async ({ database }) => (await jobsWaiting(database)).map(({ kind, oldestMs }) => [{ kind }, seconds(oldestMs)]),
  },
  {
    name: 'ember_messages_waiting',
    help: 'Messages that have not left yet',
    labels: [],
    look: async ({ database }) => [[{}, await countWaitingMessages(database)]],
  },
  {
    name: 'ember_forwards_waiting',
    help: 'Reports and sessions that are to be forwarded',
    labels: [],
    look: async ({ database }) => [[{}, await countForwardQueue(database)]],
  },
  {
    name: 'ember_index_rows',
    help: 'What this process keeps in memory: reports, and days of persons',
    labels: ['index', 'app'],
    look: async ({ database, reports, sessions }) => {
      const rows: [Record<string, string>, number][] = [];
      for (const { id, slug } of await listApps(database))
        rows.push(
          [{ index: 'reports', app: slug }, await reports.ask('size', id)],
          [{ index: 'sessions', app: slug }, await sessions.ask('size', id)],
        );
      return rows;
    },
  },
  {
    name: 'ember_disk_free_bytes',
    help: 'Of the data folder',
    labels: [],
    look: async ({ settings }) => {
      const { bavail, bsize } = await statfs(settings.dataFolder);
      return [[{}, bavail * bsize]];
    },
  },
  {
    name: 'ember_table_bytes',
    help: 'Of the tables that take more than a megabyte, with their indexes; looked up once a minute',
    labels: ['table'],
    look: async ({ database }) => (await tableSizes(database)).map(({ table, bytes }) => [{ table }, bytes]),
  },
  {
    name: 'ember_backup_age_seconds',
    help: 'Since the last whole backup; missing while there is none',
    labels: ['folder'],
    look: async ({ database }) => {
      const { good } = await lastBackups(database);
      return good?.finishedAt ? [[{ folder: good.folder }, seconds(Date.now() - good.finishedAt.getTime())]] : [];
    },
  },
];

const sizes = new WeakMap<Observed['database'], { at: number; sizes: ReturnType<typeof listTableSizes> }>();

function tableSizes(database: Observed['database']): ReturnType<typeof listTableSizes> {
  const known = sizes.get(database);
  if (known && Date.now() - known.at < sizesEveryMs) return known.sizes;
  const looked = { at: Date.now(), sizes: listTableSizes(database) };
  looked.sizes.catch(() => sizes.delete(database));
  sizes.set(database, looked);
  return looked.sizes;
}

/** Adds to what a process counts what is so at the moment of asking. One that cannot be found out is missing, and costs the others nothing. */
export function observeServices({ registry }: Metrics, services: Observed): void {
  for (const { name, help, labels, look } of observations)
    new Gauge({
      name,
      help,
      labelNames: [...labels],
      registers: [registry],
      async collect() {
        this.reset();
        try {
          for (const [labels, value] of await look(services)) this.set(labels, value);
        } catch (error) {
          // Without labels there is always a value, and 0 would be one.
          if (labels.length === 0) this.set(Number.NaN);
          services.log.debug({ err: error, metric: name }, 'a metric could not be taken');
        }
      },
    });
}
