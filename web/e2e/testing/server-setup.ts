import { cpSync, mkdtempSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { TestProject } from 'vitest/node';
import { type FirstStart, type StartedProduct, startProduct } from '../../../scripts/testing/started-product.ts';

declare module 'vitest' {
  interface ProvidedContext {
    /** The folder in which the products that journeys visit have theirs. */
    productsFolder: string;
  }
}

/** Where the product of a worker is told once it is ready, as JSON. */
export const readyFile = (folder: string, worker: number): string => join(folder, `${worker}.json`);

/**
 * Starts the product with its own MariaDB, data directory and demo, one for each worker, so that journeys beside each other change
 * nothing for one another. Other tests run while they get ready; the journeys wait for theirs.
 */
export default function setup(project: TestProject): () => Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'ember-journeys-'));
  const workers = Array.from({ length: Number(project.config.maxWorkers) }, (_, at) => at + 1);
  const tell = (worker: number, ready: object) => {
    const file = readyFile(folder, worker);
    writeFileSync(`${file}.new`, JSON.stringify(ready));
    renameSync(`${file}.new`, file);
  };
  const starting = startCopies(folder, workers, ({ worker, product, first, of }) =>
    tell(worker, { ...first, address: product.address, folder: of }),
  ).catch((error: unknown) => {
    for (const worker of workers) tell(worker, { problem: String(error) });
    return [];
  });
  project.provide('productsFolder', folder);
  return async () => {
    await Promise.all((await starting).map((product) => product.stop()));
    rmSync(folder, { recursive: true, force: true });
  };
}

interface Ready {
  readonly worker: number;
  readonly product: StartedProduct;
  /** The credentials that the first start of all showed. */
  readonly first: FirstStart;
  /** Its data folder. */
  readonly of: string;
}

/** Loads the demo once, and starts a copy of it for each worker. */
async function startCopies(folder: string, workers: readonly number[], tell: (ready: Ready) => void): Promise<StartedProduct[]> {
  const folderOf = (worker: number) => join(folder, `product-${worker}`);
  const [first, ...others] = workers as [number, ...number[]];
  const original = await startProduct(folderOf(first));
  const start = async (worker: number) => {
    const product = await startProduct(folderOf(worker));
    tell({ worker, product, first: original.first, of: folderOf(worker) });
    return product;
  };
  if (others.length === 0) {
    tell({ worker: first, product: original, first: original.first, of: folderOf(first) });
    return [original];
  }
  await original.stop();
  for (const worker of others) cpSync(folderOf(first), folderOf(worker), { recursive: true });
  return Promise.all(workers.map(start));
}
