import type { Grouping } from '@rough-ember/core/grouping/group-report';
import type { Report } from '@rough-ember/core/report/report';
import type { ReadableReport } from '@rough-ember/core/symbolicate/readable-report';
import { symbolKey } from '@rough-ember/core/symbols/symbol-id';
import type { Knex } from 'knex';
import { type AlertFact, recordFacts } from './alert-facts.ts';
import { type Placed, placeInCases } from './case-keys.ts';
import { casesThatWait, noteArrival } from './case-status.ts';
import { type Database, inTransaction } from './database.ts';
import { queueForwardedReports } from './forwards.ts';
import { insertRows } from './insert-rows.ts';
import { queueJobs } from './jobs.ts';
import { symbolFileHasCome } from './symbol-files.ts';
import { saveTerms } from './terms.ts';
import { uuidText } from './uuid.ts';

/** What processing made of a report. */
export interface MadeOfReport {
  /** The readable stacks, JSON. */
  readonly readable: string;
  /** Why it is in its case, JSON. */
  readonly explanation: string;
  readonly needs: ReadableReport['needs'];
  readonly grouping: Omit<Grouping, 'explanation'>;
}

export interface ProcessedReport extends MadeOfReport {
  readonly row: number;
  readonly appId: number;
  readonly jobId: number;
  readonly report: Pick<Report, 'kind' | 'version' | 'build'> & { readonly excluded: boolean };
  /** As `packTerms` gives them. */
  readonly terms: Buffer;
}

/**
 * Keeps what processing made of reports: their readable stacks, what they still miss, and their cases. The jobs are
 * finished in the same transaction, so that a report is processed once or again, never lost between.
 */
export async function saveProcessedReports(database: Database, processed: readonly ProcessedReport[]): Promise<void> {
  // In one order everywhere, so that two transactions wait for each other instead of locking each other out.
  const inOrder = [...processed].sort((a, b) => a.row - b.row);
  await inTransaction(database, (transaction) => saveInTransaction(transaction, inOrder));
}

async function saveInTransaction(transaction: Knex.Transaction, processed: readonly ProcessedReport[]): Promise<void> {
  const placed = await placeInCases(transaction, processed);
  const present = processed.filter(({ row }) => placed.has(row));
  const rows = present.map(({ row }) => row);
  if (present.length > 0)
    await transaction('reports')
      .whereIn('id', rows)
      .update({ state: 'processed', problem: null, processed_at: new Date(), made_bytes: madeBytesOf(transaction, present) });
  await insertRows(
    transaction,
    'report_bodies',
    // The body stands already and stays as it is.
    present.map(({ row, readable, explanation }) => ({
      report_row: row,
      body: '',
      readable,
      explanation,
    })),
    { behind: 'ON DUPLICATE KEY UPDATE readable = VALUES(readable), explanation = VALUES(explanation)' },
  );
  await saveTerms(transaction, present);
  await saveNeeds(transaction, present);
  await queueForwardedReports(
    transaction,
    rows.filter((row) => placed.get(row)?.before === null),
  );
  await recordFacts(transaction, await noteArrivals(transaction, present, placed));
  await transaction('jobs')
    .whereIn(
      'id',
      processed.map(({ jobId }) => jobId),
    )
    .delete();
}

/** The size of what was made of each report, for one statement that changes all of them. */
function madeBytesOf(transaction: Knex.Transaction, processed: readonly ProcessedReport[]): Knex.Raw {
  const values = processed.flatMap(({ row, readable, explanation }) => [row, Buffer.byteLength(readable) + Buffer.byteLength(explanation)]);
  return transaction.raw(`CASE id ${processed.map(() => 'WHEN ? THEN ?').join(' ')} END`, values);
}

/** What a small number of the database holds. */
const mostFrames = 65_535;

/** Keeps what reports ask for of symbol files, and sends round again those whose file has come while they were processed. */
async function saveNeeds(transaction: Knex.Transaction, processed: readonly ProcessedReport[]): Promise<void> {
  await transaction('report_needs')
    .whereIn(
      'report_row',
      processed.map(({ row }) => row),
    )
    .delete();
  const rows = processed.flatMap(({ row, appId, report, needs }) =>
    needs.map((need) => ({
      report_row: row,
      app_id: appId,
      kind: need.kind,
      version: report.version,
      build: report.build,
      symbol_id: need.symbolId ?? '',
      symbol_key: need.symbolId === null ? '' : symbolKey(need.kind, need.symbolId),
      name: need.name ?? '',
      found: need.found,
      frames_covered: Math.min(need.frames?.covered ?? 0, mostFrames),
      frames_uncovered: Math.min(need.frames?.uncovered ?? 0, mostFrames),
    })),
  );
  await insertRows(transaction, 'report_needs', rows);
  // Reports of one build ask for the same files. Whoever marks one as ready after the first answer meets the needs above.
  const answers = new Map<string, boolean>();
  for (const { row, appId, report, needs: asked } of processed) {
    const build = { appId, version: report.version, build: report.build };
    for (const { found, frames: _frames, ...need } of asked) {
      if (found) continue;
      const name = JSON.stringify([build, need]);
      const hasCome = answers.get(name) ?? (await symbolFileHasCome(transaction, need, build));
      answers.set(name, hasCome);
      if (!hasCome) continue;
      await queueJobs(transaction, { kind: 'process-report', appId, priority: 'again' }, [row]);
      break;
    }
  }
}

/**
 * Tells cases of what came to them, and gives what of it rules may tell. A report that is named again where it was is no news; one that
 * late symbols lead to another case may open that one again, but was told of when it came.
 */
async function noteArrivals(
  transaction: Knex.Transaction,
  processed: readonly ProcessedReport[],
  placed: ReadonlyMap<number, Placed>,
): Promise<AlertFact[]> {
  const arrived = processed.flatMap(({ row, appId, report }) => {
    const { before, caseId, isFirst } = placed.get(row) as Placed;
    return before === caseId ? [] : [{ row, appId, caseId, isFirst, isNew: before === null, version: report.version }];
  });
  if (arrived.length === 0) return [];
  const facts = arrived
    .filter((one) => one.isNew)
    .flatMap(({ row, appId, caseId, isFirst }): AlertFact[] => [
      { kind: 'report', appId, caseId, reportRow: row },
      ...(isFirst ? [{ kind: 'case-begins' as const, appId, caseId, reportRow: row }] : []),
    ]);
  const waiting = new Set(
    await casesThatWait(
      transaction,
      arrived.map(({ caseId }) => caseId),
    ),
  );
  for (const { row, appId, caseId, version } of arrived) {
    if (!waiting.has(caseId)) continue;
    const { receivedAt, reportId } = await transaction('reports')
      .where({ id: row })
      .first({ receivedAt: 'received_at', reportId: 'report_id' });
    if (await noteArrival(transaction, caseId, { version, receivedAt, reportId: uuidText(reportId) }))
      facts.push({ kind: 'case-returns', appId, caseId, reportRow: row });
  }
  return facts;
}
