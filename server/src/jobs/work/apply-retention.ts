import { keptThings } from '@rough-ember/core/report/retention';
import type { Database } from '@rough-ember/store/database';
import { finishJob, goOnLater, type Job } from '@rough-ember/store/jobs';
import { dropBefore, findCut, measureHolding, readRetention } from '@rough-ember/store/retention';

/** A job does so much and leaves the rest to the next turn, so that others come in between. */
const workedMs = 5_000;

/** Drops what an app keeps no longer, or has too much of, and looks how much it holds then. */
export async function applyRetention(database: Database, job: Job): Promise<void> {
  const end = performance.now() + workedMs;
  const now = new Date();
  const retention = await readRetention(database, job.appId);
  for (const thing of keptThings) {
    const cut = await findCut(database, { appId: job.appId, thing, limit: retention[thing], now });
    if (cut !== null)
      while ((await dropBefore(database, { appId: job.appId, thing, upTo: cut.upTo, now })) > 0)
        if (performance.now() > end) return goOnLater(database, job);
    await measureHolding(database, job.appId, thing);
  }
  await finishJob(database, job.id);
}
