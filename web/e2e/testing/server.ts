import { existsSync, readFileSync } from 'node:fs';
import { setTimeout as pause } from 'node:timers/promises';
import { inject } from 'vitest';
import type { FirstStart } from '../../../scripts/testing/started-product.ts';
import { readyFile } from './server-setup.ts';

export interface StartedServer extends FirstStart {
  readonly address: string;
  /** Its data folder. */
  readonly folder: string;
}

async function startedServer(): Promise<StartedServer> {
  // Vitest numbers the workers of a project from 1.
  const file = readyFile(inject('productsFolder'), Number(process.env.VITEST_POOL_ID));
  while (!existsSync(file)) await pause(200);
  const ready: StartedServer | { problem: string } = JSON.parse(readFileSync(file, 'utf8'));
  if ('problem' in ready) throw new Error(ready.problem);
  return ready;
}

/** The product that the journeys of this worker visit; whoever imports this waits until it is ready. */
export const server = await startedServer();
