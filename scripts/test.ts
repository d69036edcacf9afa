import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { buildPages } from './build/pages.mjs';
import { formAndLint, runChecks, typedFolders, typesOf, typesOfPages } from './checks.ts';
import { chromium, compilers, curl, java, mariadb, mariadbClient, requireProgram, StartProblem } from './debian.ts';

/** What must hold before any test is worth running. */
const checks = [formAndLint, ...typedFolders.filter((folder) => folder !== 'web').map(typesOf), typesOfPages];

/** `npm test`: everything, from a fresh machine; ends with the line "N passed, N failed". */
export async function main(filters: readonly string[]): Promise<number> {
  try {
    requireProgram(mariadb);
    requireProgram(mariadbClient);
    requireProgram(chromium);
    requireProgram(java);
    requireProgram(curl);
    requireProgram(compilers);
    const failedChecks = filters.length > 0 ? 0 : await runChecks(checks);
    await buildPages();
    const tests = runTests(filters);
    const passedChecks = filters.length > 0 ? 0 : checks.length - failedChecks;
    console.log(`${passedChecks + tests.passed} passed, ${failedChecks + tests.failed} failed`);
    return failedChecks + tests.failed > 0 ? 1 : 0;
  } catch (error) {
    if (!(error instanceof StartProblem)) throw error;
    console.error(error.message);
    console.log('0 passed, 1 failed');
    return 1;
  }
}

/** Runs Vitest and counts; a run that ends without a result counts as one failure. */
function runTests(filters: readonly string[]): { passed: number; failed: number } {
  const folder = mkdtempSync(join(tmpdir(), 'ember-results-'));
  const file = join(folder, 'results.json');
  const ran = spawnSync(
    'npx',
    ['--no-install', 'vitest', 'run', '--reporter=default', '--reporter=json', `--outputFile.json=${file}`, ...filters],
    {
      stdio: 'inherit',
      env: { ...process.env, npm_config_loglevel: 'error' },
    },
  );
  try {
    const { numPassedTests: passed, numFailedTests: failed } = JSON.parse(readFileSync(file, 'utf8'));
    return { passed, failed: ran.status !== 0 && failed === 0 ? 1 : failed };
  } catch {
    return { passed: 0, failed: 1 };
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
