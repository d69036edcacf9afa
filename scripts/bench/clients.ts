import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { gzipSync } from 'node:zlib';
import { buildSync } from 'esbuild';
import { type Bench, percentile } from './figure.ts';

const collectors = fileURLToPath(new URL('../../collector/', import.meta.url));
const launches = 7;

/** What a client says of itself: what its start, a call and a report take, and the memory that it keeps. */
interface Told {
  readonly startMs: number;
  readonly screenUs: number;
  readonly reportMs: number;
  readonly bytes: number;
}

interface Client {
  readonly name: string;
  readonly isHere: boolean;
  /** Builds it into a folder; gives the command, which takes "bare" or "cost" as its last word, and what it adds to an app. */
  build(folder: string): { readonly command: readonly [string, ...string[]]; readonly appBytes: number; readonly memoryBytes?: number };
}

const sizeOf = (folder: string, pattern: RegExp): number =>
  readdirSync(folder)
    .filter((name) => pattern.test(name))
    .reduce((sum, name) => sum + statSync(join(folder, name)).size, 0);

const clients: readonly Client[] = [
  {
    name: 'JavaScript',
    isHere: true,
    build: (folder) => {
      const [program, minified] = [join(folder, 'situations.mjs'), join(folder, 'collector.mjs')];
      const how = { bundle: true, format: 'esm', define: { __VERSION__: '"bench"' } } as const;
      buildSync({ ...how, entryPoints: [join(collectors, 'testing/situations.ts')], outfile: program, platform: 'node' });
      buildSync({ ...how, entryPoints: [join(collectors, 'src/index.ts')], outfile: minified, minify: true });
      return { command: [process.execPath, '--expose-gc', program], appBytes: gzipSync(readFileSync(minified)).length };
    },
  },
  {
    name: 'JVM',
    isHere: existsSync('/usr/bin/javac'),
    build: (folder) => {
      const files = ['EmberReporter.java', 'testing/Situations.java'].map((name) => join(collectors, 'java', name));
      execFileSync('javac', ['-nowarn', '-d', folder, ...files], { stdio: 'pipe' });
      return { command: ['java', '-cp', folder, 'Situations'], appBytes: sizeOf(folder, /^EmberReporter.*\.class$/) };
    },
  },
  {
    name: '.NET',
    isHere: existsSync('/usr/bin/mcs') && existsSync('/usr/bin/mono'),
    build: (folder) => {
      const [library, program] = [join(folder, 'EmberReporter.dll'), join(folder, 'Situations.exe')];
      const sources = (name: string) => join(collectors, 'dotnet', name);
      execFileSync('mcs', ['-langversion:latest', '-target:library', sources('EmberReporter.cs'), `-out:${library}`]);
      execFileSync('mcs', ['-langversion:latest', `-r:${library}`, sources('testing/Situations.cs'), `-out:${program}`]);
      return { command: ['mono', program], appBytes: statSync(library).size };
    },
  },
  {
    name: 'native',
    isHere: existsSync('/usr/bin/gcc'),
    build: (folder) => {
      const [object, program] = [join(folder, 'ember_native.o'), join(folder, 'cost')];
      const how = ['-std=gnu11', '-O2', `-I${join(collectors, 'native')}`];
      execFileSync('gcc', [...how, '-c', join(collectors, 'native/ember_native.c'), '-o', object]);
      execFileSync('gcc', [...how, join(collectors, 'native/testing/cost.c'), object, '-lpthread', '-o', program]);
      const [text = 0, data = 0, zeroed = 0] =
        execFileSync('size', [object], { encoding: 'utf8' }).split('\n')[1]?.trim().split(/\s+/).map(Number) ?? [];
      return { command: [program], appBytes: text + data, memoryBytes: data + zeroed };
    },
  },
];

/** The middle of what several launches tell, each in a folder of its own, with no server to be reached. */
function costOf(client: Client, folder: string) {
  mkdirSync(folder);
  const { command, appBytes, memoryBytes } = client.build(folder);
  const [program, ...before] = command;
  const launch = (what: string, at: number): string => {
    const place = join(folder, `${what}-${at}`);
    const words = client.name === 'native' ? [place, what] : ['http://127.0.0.1:9', 'intake_bench', place, what];
    return execFileSync(program, [...before, ...words], { encoding: 'utf8', stdio: ['ignore', 'pipe', 'ignore'] });
  };
  const wholeMs: number[] = [];
  const told: Told[] = [];
  for (let at = 0; at < launches; at++) {
    const began = performance.now();
    launch('bare', at);
    wholeMs.push(performance.now() - began);
    told.push(JSON.parse(launch('cost', at).trim().split('\n').at(-1) as string));
  }
  const middle = (pick: (one: Told) => number) => percentile(told.map(pick), 50);
  return {
    name: client.name,
    appBytes,
    bareMs: percentile(wholeMs, 50),
    startMs: middle((one) => one.startMs),
    screenUs: middle((one) => one.screenUs),
    reportMs: middle((one) => one.reportMs),
    bytes: memoryBytes ?? middle((one) => one.bytes),
  };
}

/** What each client that runs here costs an app; the figure is the start of the one that takes most of its runtime's. */
export const clientStart: Bench = async (folder) => {
  const costs = clients.filter((client) => client.isHere).map((client, at) => costOf(client, join(folder, String(at))));
  const worst = costs.reduce((one, other) => (other.startMs / other.bareMs > one.startMs / one.bareMs ? other : one));
  return {
    name: 'clients.start',
    value: worst.startMs,
    unit: 'ms',
    yardstick: 'a program of the same runtime that starts and ends',
    ratio: worst.startMs / worst.bareMs,
    note: costs
      .map(
        (one) =>
          `${one.name}: ${(one.appBytes / 1000).toFixed(1)} kB in the app, start ${one.startMs.toFixed(1)} ms (the runtime ${one.bareMs.toFixed(0)} ms), ` +
          `a screen ${one.screenUs.toFixed(1)} µs, a report ${one.reportMs.toFixed(1)} ms, ${(one.bytes / 1000).toFixed(0)} kB of memory`,
      )
      .join('; '),
  };
};
