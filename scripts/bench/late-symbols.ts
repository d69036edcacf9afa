import { readFileSync } from 'node:fs';
import { setTimeout as pause } from 'node:timers/promises';
import { buildWithoutMapping, mappingFile } from '@rough-ember/demo/larkfield';
import type { Bench } from './figure.ts';
import { batchSize, jobsLeft, rate, reportLines, send, settled, withProduct } from './intake.ts';

const waitingReports = 100_000;
const reportsSent = 10_000;

/** Reports taken while 100,000 earlier ones are named by a file that came late, against reports taken with nothing else to do. */
export const lateSymbols: Bench = (folder) =>
  withProduct(folder, async (product, database) => {
    const batches = (count: number, next: () => { line: string }) =>
      Array.from({ length: count / batchSize }, () => Array.from({ length: batchSize }, () => next().line));
    const unnamed = reportLines((report) => report.version === buildWithoutMapping.version);
    // In steps, so that the memory of this program stays small.
    for (let sent = 0; sent < waitingReports; sent += 20_000) await rate(batches(20_000, unnamed), (batch) => send(product, batch));
    await settled(database);

    const named = reportLines((report) => report.version !== buildWithoutMapping.version);
    const alone = await rate(batches(reportsSent, named), (batch) => send(product, batch));
    await settled(database);

    const { version, build } = buildWithoutMapping;
    const uploaded = await fetch(
      `${product.address}/api/v1/apps/larkfield-guide/symbol-files?${new URLSearchParams({ version, build, name: 'mapping.txt' })}`,
      {
        method: 'POST',
        headers: { authorization: `Bearer ${product.first.uploadToken}` },
        body: readFileSync(mappingFile(version)),
      },
    );
    if (!uploaded.ok) throw new Error(`the mapping was answered with ${uploaded.status}`);
    while ((await jobsLeft(database)) < waitingReports / 2) await pause(50);
    const began = performance.now();
    const meanwhile = await rate(batches(reportsSent, named), (batch) => send(product, batch));
    const left = await jobsLeft(database);
    await settled(database);
    const minutes = (performance.now() - began) / 60_000;
    return {
      name: 'late-symbols',
      value: meanwhile,
      unit: 'reports/s',
      yardstick: 'reports taken by the same server with no file to catch up with',
      ratio: meanwhile / alone,
      note: `${waitingReports} waiting reports; ${left} jobs were left when the last of ${reportsSent} new ones was answered; all were named after ${minutes.toFixed(1)} minutes; alone ${alone.toFixed(0)} reports/s`,
    };
  });
