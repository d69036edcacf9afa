import { readdir, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { listAccounts } from '@rough-ember/store/accounts';
import { listApps } from '@rough-ember/store/apps';
import { lastBackups } from '@rough-ember/store/backups';
import { schemaVersion } from '@rough-ember/store/migrate';
import { listTableSizes, type TableSize } from '@rough-ember/store/table-sizes';
import { serverVersion } from '../server-version.ts';
import type { Services } from '../services.ts';

/** How the server is set up, and what it holds; what of it is changed is said by its environment. */
export interface ServerSettingsView {
  readonly version: string;
  readonly schema: number;
  readonly address: string;
  /** Whether mail leaves, and in whose name. */
  readonly sendsMail: boolean;
  readonly trustedProxies: readonly string[];
  readonly batchLimitBytes: number;
  readonly dataFolder: string;
  readonly apps: number;
  readonly accounts: number;
  /** The largest first. */
  readonly tables: readonly TableSize[];
  readonly symbolFilesBytes: number;
  readonly backups: BackupsView;
  readonly now: string;
}

/** The last backup that is whole, and why the last that was tried is not. */
export interface BackupsView {
  /** Where they are made by themselves; null where they are not. */
  readonly folder: string | null;
  readonly everyHours: number | null;
  readonly lastGood: { readonly at: string; readonly folder: string; readonly name: string; readonly bytes: number } | null;
  readonly problem: string | null;
}

export async function loadServerSettings(services: Services, now: Date): Promise<ServerSettingsView> {
  const { database, settings, mailer, publicUrl, symbols } = services;
  const [schema, apps, accounts, tables, symbolFilesBytes, backups] = await Promise.all([
    schemaVersion(database),
    listApps(database),
    listAccounts(database),
    listTableSizes(database),
    sizeOfFolder(symbols.folder),
    loadBackups(services),
  ]);
  return {
    version: serverVersion,
    schema,
    address: publicUrl,
    sendsMail: mailer !== null,
    trustedProxies: [...settings.trustedProxies].map(String),
    batchLimitBytes: settings.batchLimitBytes,
    dataFolder: settings.dataFolder,
    apps: apps.length,
    accounts: accounts.length,
    tables,
    symbolFilesBytes,
    backups,
    now: now.toISOString(),
  };
}

async function loadBackups({ database, settings: { backup } }: Pick<Services, 'database' | 'settings'>): Promise<BackupsView> {
  const { good, tried } = await lastBackups(database);
  return {
    folder: backup?.folder ?? null,
    everyHours: backup?.everyHours ?? null,
    lastGood: good?.finishedAt ? { at: good.finishedAt.toISOString(), folder: good.folder, name: good.name, bytes: good.bytes ?? 0 } : null,
    problem: tried?.problem ?? null,
  };
}

/** The bytes of all files in a folder; what goes meanwhile is passed over. */
async function sizeOfFolder(folder: string): Promise<number> {
  let bytes = 0;
  for (const name of await readdir(folder, { recursive: true }).catch(() => []))
    bytes += (await stat(join(folder, name)).catch(() => null))?.size ?? 0;
  return bytes;
}
