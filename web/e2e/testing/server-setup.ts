import { type ChildProcess, spawn } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { TestProject } from 'vitest/node';

export interface StartedServer {
  readonly address: string;
  readonly email: string;
  readonly password: string;
  readonly intakeKey: string;
  readonly uploadToken: string;
}

declare module 'vitest' {
  interface ProvidedContext {
    server: StartedServer;
  }
}

const startMs = 240_000;
const stopMs = 30_000;

/** Starts the product the way a newcomer does, with its own MariaDB, data directory and demo. */
export default async function setup(project: TestProject): Promise<() => Promise<void>> {
  const folder = mkdtempSync(join(tmpdir(), 'ember-journeys-'));
  const child = spawn(process.execPath, ['scripts/run.mjs', 'start'], {
    env: { ...process.env, NODE_ENV: 'production', PORT: '0', EMBER_DATA_DIR: folder, EMBER_LOG_LEVEL: 'warn' },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  const address = await addressOf(child);
  const first = JSON.parse(readFileSync(join(folder, 'first-start.json'), 'utf8'));
  project.provide('server', { ...first, address });
  return async () => {
    const ended = new Promise<void>((resolve, reject) => {
      child.once('exit', () => resolve());
      setTimeout(() => reject(new Error('the server did not stop in time')), stopMs).unref();
    });
    child.kill('SIGTERM');
    await ended.catch((error) => {
      child.kill('SIGKILL');
      throw error;
    });
    rmSync(folder, { recursive: true, force: true });
  };
}

function addressOf(child: ChildProcess): Promise<string> {
  return new Promise((resolve, reject) => {
    let printed = '';
    const timer = setTimeout(() => reject(new Error(`the server did not start in time:\n${printed}`)), startMs);
    child.once('exit', (code) => reject(new Error(`the server ended with ${code}:\n${printed}`)));
    child.stdout?.on('data', (chunk: Buffer) => {
      printed += chunk;
      // What the server warns of while journeys run belongs into their output.
      if (chunk.includes('"level":')) process.stderr.write(chunk);
      const ready = /Rough Ember is at (\S+)[\s\S]*Stop with/.exec(printed);
      if (!ready) return;
      clearTimeout(timer);
      resolve(ready[1] as string);
    });
  });
}
