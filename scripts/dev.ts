import { type ChildProcess, spawn } from 'node:child_process';
import { watch } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { readSettings } from '@rough-ember/server/settings';
import { watchProgram } from './build/program.mjs';
import { freePort, isTaken, startMariadb } from './mariadb.ts';

/** How long edits are gathered before they are acted on: editors write several files at once. */
const gatherMs = 80;

/**
 * `npm run dev`: the product on its demo, for whoever works on it. The server with its threads is built and started anew whenever a
 * source of it changes; pages are made by the framework's own server, which replaces what changed in them where it stands.
 */
export async function main(): Promise<number> {
  const settings = readSettings(process.env);
  if (await isTaken(settings.port, settings.host)) {
    console.error(`PORT=${settings.port} is taken by another program; choose another, for example PORT=${settings.port + 1} npm run dev`);
    return 1;
  }
  const mariadb = await startMariadb({ folder: join(settings.dataFolder, 'mariadb'), port: settings.databasePort });
  const serverPort = await freePort();
  const server = `http://127.0.0.1:${serverPort}`;
  const program = await watchProgram();
  const prepareServer = () => spawnServer({ port: serverPort, publicPort: settings.port, databaseUrl: mariadb.url });
  let running: ChildProcess | null = null;
  let prepared = prepareServer();
  const startServer = () => {
    running = prepared;
    running.send({ folder: program.folder });
    prepared = prepareServer();
  };
  const restart = async (why: string) => {
    const began = performance.now();
    const problem = await program.rebuild();
    if (problem !== null) return console.error(problem);
    const built = performance.now();
    // It loses nothing by that: what it was about to do it does when it starts again.
    if (running) await stop(running);
    startServer();
    await answers(`${server}/healthz`);
    console.log(
      `${why}: the server is back after ${Math.round(performance.now() - began)} ms, ${Math.round(built - began)} of them to build it`,
    );
  };

  startServer();
  await answers(`${server}/healthz`);
  const astro = join(dirname(createRequire(import.meta.url).resolve('astro/package.json')), 'astro.js');
  const pages = spawn(process.execPath, [astro, 'dev', '--port', String(settings.port)], {
    cwd: 'web',
    stdio: 'inherit',
    env: { ...process.env, EMBER_DEV_SERVER: server, ASTRO_TELEMETRY_DISABLED: '1' },
  });
  const stopWatching = onEdits(['core/src', 'store/src', 'server/src', 'demo/src', 'scripts'], restart);

  await new Promise<void>((resolve) => {
    for (const signal of ['SIGINT', 'SIGTERM'] as const) process.once(signal, () => resolve());
    pages.once('exit', () => resolve());
  });
  stopWatching();
  pages.kill();
  await stop(prepared);
  if (running) await stop(running);
  await program.end();
  await mariadb.stop();
  return 0;
}

/** A process that loads what the server needs and waits for the folder of the program that it is to run. */
function spawnServer({ port, publicPort, databaseUrl }: { port: number; publicPort: number; databaseUrl: string }): ChildProcess {
  return spawn(process.execPath, ['scripts/dev-server.mjs'], {
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
    env: {
      ...process.env,
      EMBER_PUBLIC_URL: `http://localhost:${publicPort}`,
      PORT: String(port),
      DATABASE_URL: databaseUrl,
      EMBER_LOG_LEVEL: process.env.EMBER_LOG_LEVEL ?? 'warn',
    },
  });
}

async function stop(child: ChildProcess): Promise<void> {
  if (child.exitCode !== null || child.signalCode !== null) return;
  const ended = new Promise((resolve) => child.once('exit', resolve));
  child.kill('SIGKILL');
  await ended;
}

/** Calls back with the name of a source that was edited, once edits rest, and never twice at a time. */
function onEdits(folders: readonly string[], act: (name: string) => Promise<void>): () => void {
  let timer: NodeJS.Timeout | undefined;
  let acting: Promise<void> = Promise.resolve();
  const watchers = folders.map((folder) =>
    watch(folder, { recursive: true }, (_event, name) => {
      if (name === null || !/\.(ts|mjs|sql|json)$/.test(name) || /\.test\.ts$/.test(name)) return;
      clearTimeout(timer);
      timer = setTimeout(() => {
        acting = acting.then(() => act(join(folder, name))).catch((error: unknown) => console.error(error));
      }, gatherMs);
    }),
  );
  return () => {
    clearTimeout(timer);
    for (const one of watchers) one.close();
  };
}

/** Waits until an address answers. */
async function answers(address: string): Promise<void> {
  while (
    !(await fetch(address).then(
      (answer) => answer.ok,
      () => false,
    ))
  )
    await pause(30);
}
