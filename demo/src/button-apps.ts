/** Small apps of the Larkfield scenario, one for each runtime with a client that runs here, with a button for each way to fail. */
import { execFileSync, spawn } from 'node:child_process';
import { existsSync, mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { buildSync } from 'esbuild';

const place = (path: string): string => fileURLToPath(new URL(path, import.meta.url));
const ofButtons = (name: string): string => place(`../buttons/${name}`);
const ofCollector = (path: string): string => place(`../../collector/${path}`);

export interface Button {
  readonly name: string;
  readonly kind: 'crash' | 'hang' | 'error';
  /** Part of what the case is called, after what caused it. */
  readonly what: string;
  /** Where it happened, when that is worth a look. */
  readonly where?: string;
}

export interface ButtonApp {
  readonly runtime: 'jvm' | 'dotnet' | 'native' | 'javascript';
  /** Programs that it takes to build and run it. */
  readonly needs: readonly string[];
  readonly buttons: readonly Button[];
  /** Builds it into a folder; gives the command that runs it. */
  build(folder: string): readonly [string, ...string[]];
}

const jvm: ButtonApp = {
  runtime: 'jvm',
  needs: ['javac', 'java'],
  buttons: [
    { name: 'uncaught', kind: 'crash', what: 'NullPointerException' },
    { name: 'with-cause', kind: 'crash', what: 'NullPointerException' },
    { name: 'in-a-thread', kind: 'crash', what: 'NullPointerException' },
    { name: 'stack-overflow', kind: 'crash', what: 'StackOverflowError' },
    { name: 'out-of-memory', kind: 'crash', what: 'OutOfMemoryError' },
    { name: 'handled', kind: 'error', what: 'NullPointerException' },
    { name: 'hang', kind: 'hang', what: 'hang', where: 'Thread.sleep' },
  ],
  build: (folder) => {
    execFileSync('javac', ['-nowarn', '-d', folder, ofCollector('java/EmberReporter.java'), ofButtons('Guide.java')], { stdio: 'pipe' });
    return ['java', '-XX:TieredStopAtLevel=1', '-Xmx128m', '-cp', folder, 'Guide'];
  },
};

const dotnet: ButtonApp = {
  runtime: 'dotnet',
  needs: ['mcs', 'mono'],
  buttons: [
    { name: 'uncaught', kind: 'crash', what: 'IndexOutOfRangeException' },
    { name: 'with-cause', kind: 'crash', what: 'IndexOutOfRangeException' },
    { name: 'in-a-thread', kind: 'crash', what: 'TimeoutException' },
    { name: 'handled', kind: 'error', what: 'IndexOutOfRangeException' },
  ],
  build: (folder) => {
    const program = join(folder, 'Survey.exe');
    execFileSync('mcs', ['-langversion:latest', ofCollector('dotnet/EmberReporter.cs'), ofButtons('Survey.cs'), `-out:${program}`]);
    return ['mono', program];
  },
};

const native: ButtonApp = {
  runtime: 'native',
  needs: ['gcc', 'g++', 'curl'],
  buttons: [
    { name: 'null-pointer', kind: 'crash', what: 'SIGSEGV' },
    { name: 'abort', kind: 'crash', what: 'SIGABRT' },
    { name: 'thrown', kind: 'crash', what: 'runtime_error' },
    { name: 'stack-overflow', kind: 'crash', what: 'SIGSEGV' },
    { name: 'in-a-thread', kind: 'crash', what: 'SIGSEGV' },
    { name: 'handled', kind: 'error', what: 'CameraError' },
  ],
  build: (folder) => {
    const [client, program] = [join(folder, 'ember_native.o'), join(folder, 'feeder')];
    execFileSync('gcc', ['-std=c11', '-O1', '-c', ofCollector('native/ember_native.c'), '-o', client]);
    const flags = ['-g', '-O1', '-fno-omit-frame-pointer', '-Wl,--build-id', `-I${ofCollector('native')}`];
    execFileSync('g++', [...flags, ofButtons('feeder.cpp'), client, '-lpthread', '-o', program]);
    return [program];
  },
};

const javascript: ButtonApp = {
  runtime: 'javascript',
  needs: [],
  buttons: [
    { name: 'uncaught', kind: 'crash', what: 'TypeError' },
    { name: 'with-cause', kind: 'crash', what: 'Error' },
    { name: 'rejection', kind: 'error', what: 'RangeError' },
    { name: 'handled', kind: 'error', what: 'Error' },
  ],
  build: (folder) => {
    const program = join(folder, 'feeder.mjs');
    buildSync({ entryPoints: [ofButtons('feeder.ts')], outfile: program, bundle: true, platform: 'node', format: 'esm' });
    return [process.execPath, program];
  },
};

export const buttonApps: readonly ButtonApp[] = [jvm, dotnet, native, javascript];

export const isBuildable = ({ needs }: ButtonApp): boolean => needs.every((program) => existsSync(`/usr/bin/${program}`));

/** Where an app reports to. */
export interface Reporting {
  readonly server: string;
  readonly key: string;
  readonly version: string;
}

/** Starts a built app and presses a button in it; "none" only starts it, which sends what the launch before left. Gives how it ended. */
export function press(
  command: readonly [string, ...string[]],
  { server, key, version }: Reporting,
  { folder, button, show = false }: { readonly folder: string; readonly button: string; readonly show?: boolean },
): Promise<{ readonly code: number | null; readonly signal: NodeJS.Signals | null }> {
  mkdirSync(folder, { recursive: true });
  const [program, ...before] = command;
  const child = spawn(program, [...before, server, key, folder, version, button], { cwd: folder, stdio: show ? 'inherit' : 'ignore' });
  return new Promise((resolve, reject) => {
    child.once('error', reject);
    child.once('exit', (code, signal) => resolve({ code, signal }));
  });
}
