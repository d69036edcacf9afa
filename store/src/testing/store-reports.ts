import { fitReport } from '@rough-ember/core/report/mend/fit-report';
import type { Report } from '@rough-ember/core/report/report';
import type { Database } from '../database.ts';
import { storeItems } from '../intake-items.ts';
import { toStorable } from '../reports.ts';

/** Stores reports alone, as intake does with those of a batch; gives the ids that were new. */
export async function storeReports(
  database: Database,
  { appId, reports, receivedAt }: { appId: number; reports: readonly Report[]; receivedAt: Date },
): Promise<Set<string>> {
  const items = { reports: reports.map((report) => toStorable(fitReport(report))), sessions: [], attachments: [], trailEvents: [] };
  return (await storeItems(database, { appId, items, receivedAt })).reports;
}
