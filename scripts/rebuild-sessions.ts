import { startSessionIndexes } from '@rough-ember/server/session-index/session-indexes';
import { listApps } from '@rough-ember/store/apps';
import { dropSessionSums } from '@rough-ember/store/session-feed';
import { onDataFolder } from './on-data-folder.ts';

/**
 * `npm run rebuild-sessions`: sums the sessions of every app anew from what is stored of each. A server that is running sees it
 * and does the same; sums of days whose sessions are gone stay as they are.
 */
export const main = (): Promise<number> =>
  onDataFolder(async (_settings, database) => {
    const sessions = startSessionIndexes(database);
    try {
      for (const app of await listApps(database)) {
        const began = performance.now();
        await dropSessionSums(database, app.id);
        const sums = await sessions.ask('size', app.id);
        console.log(`${app.name}: ${sums} sums of persons and days, ${((performance.now() - began) / 1000).toFixed(1)} s`);
      }
    } finally {
      await sessions.close();
    }
    return 0;
  });
