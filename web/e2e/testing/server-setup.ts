import { mkdtempSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { TestProject } from 'vitest/node';
import { startProduct } from '../../../scripts/testing/started-product.ts';

declare module 'vitest' {
  interface ProvidedContext {
    /** The folder of the product that all journeys visit. */
    productFolder: string;
  }
}

/** Where the started product is told once it is ready, as JSON. */
export const readyFile = (folder: string): string => join(folder, 'journeys.json');

/**
 * Starts the product with its own MariaDB, data directory and demo, for every journey. Other tests run while it gets ready; the
 * journeys wait for it.
 */
export default function setup(project: TestProject): () => Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'ember-journeys-'));
  const tell = (ready: object) => {
    const file = readyFile(folder);
    writeFileSync(`${file}.new`, JSON.stringify(ready));
    renameSync(`${file}.new`, file);
  };
  const starting = startProduct(folder).then(
    (product) => {
      tell({ ...product.first, address: product.address, folder });
      return product;
    },
    (error: unknown) => {
      tell({ problem: String(error) });
      return null;
    },
  );
  project.provide('productFolder', folder);
  return async () => {
    await (await starting)?.stop();
    rmSync(folder, { recursive: true, force: true });
  };
}
