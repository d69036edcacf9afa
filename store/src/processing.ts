import type { Grouping } from '@rough-ember/core/grouping/group-report';
import type { Report } from '@rough-ember/core/report/report';
import type { ReadableReport } from '@rough-ember/core/symbolicate/readable-report';
import { symbolKey } from '@rough-ember/core/symbols/symbol-id';
import type { Knex } from 'knex';
import { placeInCase } from './case-keys.ts';
import { noteArrival } from './case-standing.ts';
import { type Database, inTransaction } from './database.ts';
import { queueJobs } from './jobs.ts';
import { symbolFileHasCome } from './symbol-files.ts';
import { saveTerms } from './terms.ts';
import { uuidText } from './uuid.ts';

export interface ProcessedReport {
  readonly row: number;
  readonly appId: number;
  readonly report: Pick<Report, 'kind' | 'version' | 'build'> & { readonly apart: boolean };
  readonly readable: ReadableReport;
  readonly grouping: Grouping;
  /** As `packTerms` gives them. */
  readonly terms: Buffer;
}

/**
 * Keeps what processing made of a report: its readable stacks, what it still misses, and its case. The job is
 * finished in the same transaction, so that a report is processed once or again, never lost between.
 */
export async function saveProcessedReport(database: Database, processed: ProcessedReport, jobId: number): Promise<void> {
  await inTransaction(database, (transaction) => saveInTransaction(transaction, processed, jobId));
}

async function saveInTransaction(transaction: Knex.Transaction, processed: ProcessedReport, jobId: number): Promise<void> {
  const { row, appId, report, readable, grouping } = processed;
  const before = await transaction('reports')
    .where({ id: row })
    .forUpdate()
    .first({ caseId: 'case_id', receivedAt: 'received_at', reportId: 'report_id' });
  if (!before) {
    await transaction('jobs').where({ id: jobId }).delete();
    return;
  }
  const caseId = await placeInCase(transaction, processed, before.caseId);
  await transaction('reports').where({ id: row }).update({ state: 'processed', problem: null, processed_at: new Date() });
  await transaction('report_bodies')
    .where({ report_row: row })
    .update({ readable: JSON.stringify(readable), explanation: JSON.stringify(grouping.explanation) });
  await saveTerms(transaction, row, processed.terms);
  await transaction('report_needs').where({ report_row: row }).delete();
  if (readable.needs.length > 0)
    await transaction('report_needs').insert(
      readable.needs.map((need) => ({
        report_row: row,
        app_id: appId,
        kind: need.kind,
        version: report.version,
        build: report.build,
        symbol_id: need.symbolId ?? '',
        symbol_key: need.symbolId === null ? '' : symbolKey(need.symbolId),
        name: need.name ?? '',
        found: need.found,
      })),
    );
  for (const { found, ...need } of readable.needs) {
    if (found || !(await symbolFileHasCome(transaction, need, { appId, version: report.version, build: report.build }))) continue;
    await queueJobs(transaction, { kind: 'process-report', appId, priority: 'again' }, [row]);
    break;
  }
  // A report that is named again where it was is no news.
  if (before.caseId !== caseId)
    await noteArrival(transaction, caseId, { version: report.version, receivedAt: before.receivedAt, reportId: uuidText(before.reportId) });
  await transaction('jobs').where({ id: jobId }).delete();
}
