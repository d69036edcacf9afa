import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import type { StandIns } from '@rough-ember/demo/stand-ins/stand-ins';
import { readSettings, type Settings, SettingsError } from '@rough-ember/server/settings';
import type { Pages, RunningServer } from '@rough-ember/server/start-server';
import { type Database, openDatabase } from '@rough-ember/store/database';
import { parseDatabaseAddress, printHost } from '@rough-ember/store/database-address';
import { mariadbClient, requireProgram, StartProblem } from './debian.ts';
import { isTaken, type OwnMariadb, startMariadb } from './mariadb.ts';

interface Build {
  /** Names the sources of the program. */
  readonly program: string;
  /** Builds the pages unless that is done, and gives their folder; null when another process makes them. */
  buildPages(): Promise<string | null>;
  /** Builds the packages that are handed out unless that is done, and gives their folder. */
  buildPackages(): Promise<string | undefined>;
}

/** `npm start`: everything from a fresh machine to a served page; ends with SIGINT or SIGTERM. */
export async function main(_arguments: readonly string[], { program, ...parts }: Build): Promise<number> {
  let database: Database | undefined;
  let mariadb: OwnMariadb | undefined;
  let server: RunningServer | undefined;
  let standIns: StandIns | undefined;
  const stopAll = async () => {
    await server?.stop();
    await database?.destroy();
    await mariadb?.stop();
    await standIns?.stop();
  };
  const asked = new Promise<NodeJS.Signals>((resolve) => {
    for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, resolve);
  });
  try {
    let settings = readSettings(process.env);
    if (settings.port !== 0 && (await isTaken(settings.port, settings.host)))
      throw new StartProblem(
        `PORT=${settings.port} is taken by another program; choose another, for example PORT=${settings.port + 1} npm start`,
      );
    claimDataFolder(settings.dataFolder);
    // Everything else is loaded, and the pages built if need be, while the database starts.
    const loading = load(parts);
    loading.catch(() => {});
    if (settings.backup !== undefined) requireProgram(mariadbClient);
    if (settings.databaseUrl === undefined)
      mariadb = await startMariadb({ folder: join(settings.dataFolder, 'mariadb'), port: settings.databasePort });
    database = openDatabase(settings.databaseUrl ?? (mariadb as OwnMariadb).url);
    await checkDatabase(database, settings);
    const { startServer, welcome, liveDemo, startStandIns, seedAlerts, seedTracker, withDemoSources, nameDemoSources, ...web } =
      await loading;
    const hasSources = settings.demo && process.env.EMBER_SOURCES_DIR === undefined;
    if (hasSources) settings = withDemoSources(settings);
    if (settings.demo && settings.smtpUrl === undefined) {
      standIns = await startStandIns(settings.dataFolder);
      settings = { ...settings, smtpUrl: standIns.smtpUrl, mailFrom: 'Rough Ember <ember@larkfield.example>' };
    }
    server = await startServer(settings, database, { program, ...web, standIns: standIns ?? null });
    await welcome(server, settings, database);
    if (standIns) await Promise.all([seedAlerts(server.services, standIns), seedTracker(server.services, standIns)]);
    if (hasSources) await nameDemoSources(server.services);
    const endDemo = settings.demoLife ? liveDemo(server.services, server.address) : () => {};
    const signal = await asked;
    endDemo();
    console.log(`\n${signal}: finishing what was accepted …`);
    await stopAll();
    return 0;
  } catch (error) {
    await stopAll().catch(() => {});
    // A build that failed has said all there is to say.
    const isExpected = error instanceof StartProblem || error instanceof SettingsError || (error as Error).name === 'BuildProblem';
    if (!isExpected) throw error;
    console.error((error as Error).message);
    return 1;
  }
}

async function load({ buildPages, buildPackages }: Omit<Build, 'program'>) {
  const pagesFolder = await buildPages();
  const downloadsFolder = await buildPackages().catch((error: Error) => {
    console.error(`Nothing can be downloaded from this server: ${error.message}`);
    return undefined;
  });
  const [{ startServer }, { welcome }, { liveDemo }, { startStandIns }, { seedAlerts }, { seedTracker }, demoSources, pages] =
    await Promise.all([
      import('@rough-ember/server/start-server'),
      import('./first-start.ts'),
      import('./demo-life.ts'),
      import('@rough-ember/demo/stand-ins/stand-ins'),
      import('./demo-alerts.ts'),
      import('./demo-tracker.ts'),
      import('./demo-sources.ts'),
      pagesFolder === null ? {} : loadPages(pagesFolder),
    ]);
  return {
    startServer,
    welcome,
    liveDemo,
    startStandIns,
    seedAlerts,
    seedTracker,
    ...demoSources,
    ...pages,
    ...(downloadsFolder !== undefined && { downloadsFolder }),
  };
}

async function loadPages(folder: string): Promise<{ pages: Pages; assetsFolder: string }> {
  process.env.ASTRO_NODE_AUTOSTART = 'disabled';
  const { handler } = (await import(pathToFileURL(join(folder, 'server/entry.mjs')).href)) as { handler: Pages };
  return { pages: handler, assetsFolder: join(folder, 'client') };
}

/** Two servers on one data directory would stop each other's database. */
function claimDataFolder(folder: string): void {
  const claim = join(folder, 'start.pid');
  try {
    mkdirSync(folder, { recursive: true, mode: 0o700 });
    const holder = existsSync(claim) ? readFileSync(claim, 'utf8').trim() : '';
    if (/^\d+$/.test(holder) && holder !== String(process.pid) && isStartCommand(holder))
      throw new StartProblem(`EMBER_DATA_DIR=${folder} is in use by process ${holder}; stop it, or give this one a directory of its own`);
    writeFileSync(claim, String(process.pid));
  } catch (error) {
    if (error instanceof StartProblem) throw error;
    throw new StartProblem(`EMBER_DATA_DIR=${folder} cannot be used: ${(error as Error).message}`);
  }
}

function isStartCommand(pid: string): boolean {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('scripts/run.mjs\0start');
  } catch {
    return false;
  }
}

async function checkDatabase(database: Database, settings: Settings): Promise<void> {
  try {
    await database.raw('SELECT 1');
  } catch (error) {
    const { hosts = [], name = '' } = (settings.databaseUrl && parseDatabaseAddress(settings.databaseUrl)) || {};
    throw new StartProblem(
      `DATABASE_URL: the database ${name} at ${hosts.map(printHost).join(', ')} cannot be used: ${(error as Error).message}`,
    );
  }
}
