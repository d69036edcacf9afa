import type { Grouping } from '@rough-ember/core/grouping/group-report';
import type { Report } from '@rough-ember/core/report/report';
import type { ReadableReport } from '@rough-ember/core/symbolicate/readable-report';
import { symbolKey } from '@rough-ember/core/symbols/symbol-id';
import type { Knex } from 'knex';
import { noteArrival } from './case-standing.ts';
import { hashGroupingKey } from './cases.ts';
import { type Database, inTransaction } from './database.ts';
import { queueJobs } from './jobs.ts';
import { symbolFileHasCome } from './symbol-files.ts';
import { uuidText } from './uuid.ts';

export interface ProcessedReport {
  readonly row: number;
  readonly appId: number;
  readonly report: Pick<Report, 'kind' | 'version' | 'build'> & { readonly apart: boolean };
  readonly readable: ReadableReport;
  readonly grouping: Grouping;
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
  const movedFrom = before.caseId !== null && before.caseId !== caseId ? before.caseId : null;
  // The last two reports of a case may move at the same time; one waits here, so that the later one sees it empty.
  if (movedFrom !== null) await transaction('cases').where({ id: movedFrom }).forUpdate().first('id');
  await transaction('reports').where({ id: row }).update({ state: 'processed', problem: null, case_id: caseId, processed_at: new Date() });
  await transaction('report_bodies')
    .where({ report_row: row })
    .update({ readable: JSON.stringify(readable), explanation: JSON.stringify(grouping.explanation) });
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
  if (movedFrom !== null) await removeIfEmpty(transaction, appId, movedFrom, caseId);
  await transaction('jobs').where({ id: jobId }).delete();
}

/** The case of a grouping key, made when it is the first of its kind. */
async function placeInCase(transaction: Knex.Transaction, processed: ProcessedReport, previousCaseId: number | null): Promise<number> {
  const { appId, grouping, report } = processed;
  const groupingKey = hashGroupingKey(report.apart ? `apart\n${grouping.key}` : grouping.key);
  const find = (): Promise<{ id: number } | undefined> =>
    transaction('cases').where({ app_id: appId, grouping_key: groupingKey }).first('id');
  const known = await find();
  if (known) return known.id;

  // Numbers have no gaps and no two processes make the same case: whoever makes one holds the app's row.
  const app = await transaction('apps').where({ id: appId }).forUpdate().first({ lastNumber: 'last_case_number' });
  const madeMeanwhile = await transaction('cases').where({ app_id: appId, grouping_key: groupingKey }).forUpdate().first('id');
  if (madeMeanwhile) return madeMeanwhile.id;
  const shown = {
    grouping_key: groupingKey,
    what: grouping.what.slice(0, 500),
    where_text: grouping.where.slice(0, 1200),
    message: grouping.message?.slice(0, 2000) ?? null,
    culprit: grouping.culprit && JSON.stringify(grouping.culprit),
    provisional: grouping.provisional,
    apart: report.apart,
  };
  if (previousCaseId !== null && !grouping.provisional) {
    // The case that stood for the unreadable reports keeps its number and becomes the readable one.
    const adopted = await transaction('cases').where({ id: previousCaseId, provisional: true }).update(shown);
    if (adopted > 0) return previousCaseId;
  }
  const number = app.lastNumber + 1;
  await transaction('apps').where({ id: appId }).update({ last_case_number: number });
  const [id] = await transaction('cases').insert({ app_id: appId, number, kind: report.kind, ...shown });
  return id as number;
}

/** Leaves no ghost: a case whose last report has moved becomes a redirect to where it went. */
async function removeIfEmpty(transaction: Knex.Transaction, appId: number, caseId: number, movedTo: number): Promise<void> {
  // A locking read sees what others have committed meanwhile, a plain one only the start of this transaction.
  const left = await transaction('reports').where({ case_id: caseId }).forShare().first('id');
  if (left) return;
  const gone = await transaction('cases').where({ id: caseId }).forUpdate().first('number');
  if (!gone) return;
  await transaction('case_redirects').where({ case_id: caseId }).update({ case_id: movedTo });
  await transaction('case_events').where({ case_id: caseId }).update({ case_id: movedTo });
  await transaction('case_redirects').insert({ app_id: appId, number: gone.number, case_id: movedTo });
  await transaction('cases').where({ id: caseId }).delete();
}
