import { readdir, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { listAccounts } from '@rough-ember/store/accounts';
import { listApps } from '@rough-ember/store/apps';
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
}

export async function loadServerSettings(services: Services): Promise<ServerSettingsView> {
  const { database, settings, mailer, publicUrl, symbols } = services;
  const [schema, apps, accounts, tables, symbolFilesBytes] = await Promise.all([
    schemaVersion(database),
    listApps(database),
    listAccounts(database),
    listTableSizes(database),
    sizeOfFolder(symbols.folder),
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
  };
}

/** The bytes of all files in a folder; what goes meanwhile is passed over. */
async function sizeOfFolder(folder: string): Promise<number> {
  let bytes = 0;
  for (const name of await readdir(folder, { recursive: true }).catch(() => []))
    bytes += (await stat(join(folder, name)).catch(() => null))?.size ?? 0;
  return bytes;
}
