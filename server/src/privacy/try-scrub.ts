import type { ScrubRules } from '@rough-ember/core/report/scrub';
import { type ScrubDifference, scrubDifferences } from '@rough-ember/core/report/scrub-differences';
import type { Database } from '@rough-ember/store/database';
import { newestProcessed, readBodies } from '@rough-ember/store/reports';
import { reportForm } from '@rough-ember/store/stored-forms';
import { readStored } from '@rough-ember/store/stored-json';

/** What rules would take out of the newest reports that an app has sent, beyond what is gone already. */
export interface ScrubTrial {
  /** How many of the newest reports were looked at. */
  readonly looked: number;
  /** How many of them would change. */
  readonly changed: number;
  /** The newest that would. */
  readonly reports: readonly {
    readonly reportId: string;
    readonly occurredAt: string;
    readonly differences: readonly ScrubDifference[];
  }[];
}

const lookedAt = 200;
const longestMs = 4_000;
const shownReports = 8;
const shownDifferences = 6;

/** Tries rules on the newest reports of an app; nothing is kept. An app's own patterns may take their time, so a worker thread runs this. */
export async function tryScrub(database: Database, appId: number, rules: ScrubRules): Promise<ScrubTrial> {
  const end = performance.now() + longestMs;
  const reports: ScrubTrial['reports'][number][] = [];
  let looked = 0;
  let changed = 0;
  for await (const bodies of readBodies(database, await newestProcessed(database, appId, lookedAt)))
    for (const body of bodies) {
      if (performance.now() > end) return { looked, changed, reports };
      const report = readStored(reportForm, body);
      const differences = scrubDifferences(rules, report, shownDifferences);
      looked++;
      if (differences.length === 0) continue;
      changed++;
      if (reports.length < shownReports) reports.push({ reportId: report.id, occurredAt: report.occurredAt, differences });
    }
  return { looked, changed, reports };
}
