import { chmodSync, existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import type { DemoApp } from '@rough-ember/demo/demo-app';
import { larkfieldApps, larkfieldGuide } from '@rough-ember/demo/larkfield';
import { createOwner } from '@rough-ember/server/accounts/sign-in';
import type { PageHandler } from '@rough-ember/server/http/http-server';
import { issueIntakeKey, issueToken } from '@rough-ember/server/intake/intake-overview';
import { readSettings, type Settings, SettingsError } from '@rough-ember/server/settings';
import { type RunningServer, startServer } from '@rough-ember/server/start-server';
import { createApp, findApp } from '@rough-ember/store/apps';
import { listIntakeKeys, listTokens, revokeToken } from '@rough-ember/store/credentials';
import { type Database, openDatabase } from '@rough-ember/store/database';
import { migrate } from '@rough-ember/store/migrate';
import { buildWeb } from './build-web.ts';
import { StartProblem } from './debian.ts';
import { liveDemo } from './demo-life.ts';
import { type DemoSender, loadDemoApp, settled, withDemoSender } from './load-demo.ts';
import { isTaken, type OwnMariadb, startMariadb } from './mariadb.ts';

/** `npm start`: everything from a fresh machine to a served page; ends with SIGINT or SIGTERM. */
export async function main(): Promise<number> {
  let database: Database | undefined;
  let mariadb: OwnMariadb | undefined;
  let server: RunningServer | undefined;
  const stopAll = async () => {
    await server?.stop();
    await database?.destroy();
    await mariadb?.stop();
  };
  const asked = new Promise<NodeJS.Signals>((resolve) => {
    for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, resolve);
  });
  try {
    const settings = readSettings(process.env);
    if (settings.port !== 0 && (await isTaken(settings.port, settings.host)))
      throw new StartProblem(
        `PORT=${settings.port} is taken by another program; choose another, for example PORT=${settings.port + 1} npm start`,
      );
    claimDataFolder(settings.dataFolder);
    if (settings.databaseUrl === undefined)
      mariadb = await startMariadb({ folder: join(settings.dataFolder, 'mariadb'), port: settings.databasePort });
    database = openDatabase(settings.databaseUrl ?? (mariadb as OwnMariadb).url);
    await checkDatabase(database, settings);
    await migrate(database);
    const program = buildWeb().slice(0, 16);

    process.env.ASTRO_NODE_AUTOSTART = 'disabled';
    const { handler } = (await import(pathToFileURL(join('web/dist/server/entry.mjs')).href)) as { handler: PageHandler };
    server = await startServer(settings, database, { program, pages: handler, assetsFolder: join('web/dist/client') });
    await welcome(server, settings, database);
    const endDemo = settings.demoLife ? liveDemo(server.services, server.address) : () => {};
    const signal = await asked;
    endDemo();
    console.log(`\n${signal}: finishing what was accepted …`);
    await stopAll();
    return 0;
  } catch (error) {
    await stopAll().catch(() => {});
    if (!(error instanceof StartProblem || error instanceof SettingsError)) throw error;
    console.error(error.message);
    return 1;
  }
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
    const { host, pathname } = new URL(settings.databaseUrl ?? 'mysql://own/');
    throw new StartProblem(`DATABASE_URL: the database${pathname} at ${host} cannot be used: ${(error as Error).message}`);
  }
}

/** Tells how far the demo is, on one line of a terminal, or a line for each quarter elsewhere. */
function showProgress(total: number): { add(count: number): void; end(): void } {
  const isTerminal = process.stdout.isTTY;
  let done = 0;
  let told = 0;
  return {
    add: (count) => {
      done += count;
      const percent = Math.min(100, Math.floor((100 * done) / Math.max(1, total)));
      if (percent < told + (isTerminal ? 1 : 25)) return;
      told = percent;
      const bar = '█'.repeat(percent / 5).padEnd(20, '·');
      if (isTerminal) process.stdout.write(`\r  ${bar} ${percent} %`);
      else console.log(`  ${percent} %`);
    },
    end: () => {
      if (isTerminal) process.stdout.write('\n');
    },
  };
}

/** How far the first start came; its secrets are shown once and kept as hashes alone. */
interface FirstStart {
  readonly email: string;
  readonly demoLoaded: boolean;
}

/** Makes the owner, and the demo once, and prints where to go and how to sign in. */
async function welcome({ address, services }: RunningServer, settings: Settings, database: Database): Promise<void> {
  const file = join(settings.dataFolder, 'first-start.json');
  const keep = (next: FirstStart) => {
    writeFileSync(file, JSON.stringify(next, null, 2), { mode: 0o600 });
    chmodSync(file, 0o600);
  };
  const password = await createOwner(database, { email: settings.ownerEmail, name: settings.demo ? 'Ines' : 'Owner' });
  const shown: string[] = [];
  const show = (line: string) => {
    shown.push(line);
    // Whoever stops the start before its end has seen it all the same.
    console.log(line);
  };
  if (password !== null) {
    keep({ email: settings.ownerEmail, demoLoaded: false });
    show(`Sign in as ${settings.ownerEmail} with the password ${password}`);
  }
  const known = existsSync(file) ? (JSON.parse(readFileSync(file, 'utf8')) as FirstStart) : null;
  if (settings.demo && known && !known.demoLoaded) await loadDemo({ address, services }, settings, show);
  // Files of earlier versions held the secrets themselves.
  if (known) keep({ email: known.email, demoLoaded: known.demoLoaded || settings.demo });

  console.log(`\nRough Ember is at ${address}`);
  for (const line of shown) console.log(line);
  if (password !== null) console.log('Password and token are shown this once.');
  else if (known) console.log(`Sign in as ${known.email}; npm run new-password makes a new password if the one of the first start is lost`);
  console.log('Stop with Ctrl-C.\n');
}

/** Loads the apps of the demo that are not there in full, and shows the credentials of the first one. */
async function loadDemo(
  { address, services }: Pick<RunningServer, 'address' | 'services'>,
  settings: Settings,
  show: (line: string) => void,
) {
  console.log('Loading the Larkfield demo …');
  const progress = showProgress(settings.demoSessions);
  const left = [...larkfieldApps];
  const loadWhatIsLeft = async (sender: DemoSender) => {
    for (let demo = left.shift(); demo; demo = left.shift()) {
      const credentials = await demoCredentials(services.database, demo);
      if (demo === larkfieldGuide) {
        show(`Intake key of ${demo.app.name}: ${credentials.intakeKey}`);
        show(`Upload token of ${demo.app.name}: ${credentials.uploadToken}`);
      }
      await loadDemoApp(services, demo, { address, ...credentials }, { actor: settings.ownerEmail, sender, onSent: progress.add });
    }
  };
  // The first app is the largest; while one is made up, the server takes the other in.
  await Promise.all([1, 2].map(() => withDemoSender(loadWhatIsLeft)));
  await settled(services);
  progress.end();
}

const demoToken = 'build server';

/** Makes an app of the demo with its key and token. What a start that was cut short has made is used again, its token replaced. */
async function demoCredentials(database: Database, demo: DemoApp): Promise<{ intakeKey: string; uploadToken: string }> {
  const app = (await createApp(database, demo.app)) ?? (await findApp(database, demo.app.slug));
  if (!app) throw new StartProblem(`The demo cannot be loaded: another app has its prefix ${demo.app.prefix}; start with EMBER_DEMO=off`);
  const [[key], tokens] = await Promise.all([listIntakeKeys(database, app.id), listTokens(database, app.id)]);
  for (const { id, name, revokedAt } of tokens) if (name === demoToken && revokedAt === null) await revokeToken(database, app.id, id);
  return {
    intakeKey: key?.keyText ?? (await issueIntakeKey(database, { appId: app.id, name: 'phones' })),
    uploadToken: await issueToken(database, { appId: app.id, name: demoToken, scope: 'upload' }),
  };
}
