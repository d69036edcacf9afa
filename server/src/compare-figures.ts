import { hourMs } from '@rough-ember/core/durations';
import { listApps } from '@rough-ember/store/apps';
import type { Services } from './services.ts';

const firstAfterMs = 120_000;
const everyMs = hourMs;

type ComparedServices = Pick<Services, 'database' | 'reports' | 'sessions' | 'log'>;

/**
 * Compares the figures that this process keeps in memory with the database and puts right what differs. They follow its changes one
 * by one, so nothing should; whatever did is told in the log.
 */
export async function compareFigures({ database, reports, sessions, log }: ComparedServices): Promise<number> {
  let mended = 0;
  for (const { id, slug } of await listApps(database)) {
    const wrongReports = await reports.ask('mend', id);
    const wrongDays = await sessions.ask('mend', id);
    if (wrongReports + wrongDays > 0)
      log.warn({ app: slug, reports: wrongReports, days: wrongDays }, 'figures differed from the database and were put right');
    mended += wrongReports + wrongDays;
  }
  return mended;
}

/** Compares now and then, until it is stopped. */
export function startComparison(services: ComparedServices): { stop(): void } {
  const compare = () => {
    compareFigures(services).catch((error: unknown) =>
      services.log.warn({ err: error }, 'figures could not be compared with the database'),
    );
  };
  const first = setTimeout(compare, firstAfterMs);
  const others = setInterval(compare, everyMs);
  for (const timer of [first, others]) timer.unref();
  return {
    stop: () => {
      clearTimeout(first);
      clearInterval(others);
    },
  };
}
