import { raiseRevision } from '@rough-ember/store/apps';
import type { Database } from '@rough-ember/store/database';
import type { Logger } from 'pino';

/** Tells screens that something of an app has changed; many changes at once are told once. */
export interface Changes {
  note(appId: number): void;
  /** Tells what was noted and not told yet. */
  flush(): Promise<void>;
}

/** A person sees no difference, and the database is spared a write for every request. */
const gatherMs = 150;

export function startChanges(database: Database, log: Logger): Changes {
  const noted = new Set<number>();
  let timer: ReturnType<typeof setTimeout> | null = null;
  const flush = async () => {
    if (timer) clearTimeout(timer);
    timer = null;
    const apps = [...noted];
    noted.clear();
    try {
      for (const appId of apps) await raiseRevision(database, appId);
    } catch (error) {
      log.warn({ err: error }, 'screens could not be told of a change');
    }
  };
  return {
    note: (appId) => {
      noted.add(appId);
      timer ??= setTimeout(flush, gatherMs);
    },
    flush,
  };
}
