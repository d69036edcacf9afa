import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { TestProject } from 'vitest/node';
import { type FirstStart, startProduct } from '../../../scripts/testing/started-product.ts';

export interface StartedServer extends FirstStart {
  readonly address: string;
  /** Its data folder. */
  readonly folder: string;
}

declare module 'vitest' {
  interface ProvidedContext {
    server: StartedServer;
  }
}

/** Starts the product with its own MariaDB, data directory and demo, for every journey. */
export default async function setup(project: TestProject): Promise<() => Promise<void>> {
  const folder = mkdtempSync(join(tmpdir(), 'ember-journeys-'));
  const { address, first, stop } = await startProduct(folder);
  project.provide('server', { ...first, address, folder });
  return async () => {
    await stop();
    rmSync(folder, { recursive: true, force: true });
  };
}
