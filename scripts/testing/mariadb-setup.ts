import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { TestProject } from 'vitest/node';
import { buildProgram } from '../build/program.mjs';
import { startMariadb } from '../mariadb.ts';

declare module 'vitest' {
  interface ProvidedContext {
    databaseUrl: string;
  }
}

/** One MariaDB for all database tests, on its own port and directory, removed afterwards. */
export default async function setup(project: TestProject): Promise<() => Promise<void>> {
  // Servers of tests start their threads from the build.
  await buildProgram();
  const folder = mkdtempSync(join(tmpdir(), 'ember-test-'));
  const mariadb = await startMariadb({ folder, throwaway: true });
  project.provide('databaseUrl', mariadb.url);
  return async () => {
    await mariadb.stop();
    rmSync(folder, { recursive: true, force: true });
  };
}
