import type { GroupingExplanation } from '@rough-ember/core/grouping/group-report';
import type { FittedReport } from '@rough-ember/core/report/mend/fit-report';
import type { Report } from '@rough-ember/core/report/report';
import type { ReportKind } from '@rough-ember/core/report/report-kinds';
import type { ReadableReport } from '@rough-ember/core/symbolicate/readable-report';
import type { Knex } from 'knex';
import { contextColumns } from './context-columns.ts';
import type { Database } from './database.ts';
import { insertRows } from './insert-rows.ts';
import { queueJobs } from './jobs.ts';
import { bodiesAtOnceBytes, partsOfSize, sizedRow } from './parts-of-size.ts';
import { explanationForm, readableForm, reportForm } from './stored-forms.ts';
import { readStored } from './stored-json.ts';
import { uuidBytes, uuidText } from './uuid.ts';

/** What the store needs to know of a report, beside the whole of it. */
export type ReportHead = Omit<Report, 'exceptions' | 'threads' | 'images' | 'trail' | 'sections' | 'flags' | 'attributes' | 'remarks'>;

/** What of a report its session is told by. */
export type EndingReport = Pick<StorableReport, 'head' | 'excluded' | 'timeOfDevice'>;

export interface StorableReport {
  readonly head: ReportHead;
  /** The canonical report, JSON. */
  readonly body: string;
  /** Excluded from what people see by default, such as the reports of debug builds. */
  readonly excluded: boolean;
  /** How many reports it stands for, those among them that were sampled out. */
  readonly weight: number;
  /** When it happened by the clock that its session is told by, right or wrong; ISO. */
  readonly timeOfDevice: string;
}

/** Readies a report for the store; nothing heavy goes with it but its text. */
export function toStorable(
  { report, body }: Pick<FittedReport, 'report' | 'body'>,
  { excluded = false, weight = 1, timeOfDevice = report.occurredAt } = {},
): StorableReport {
  const { exceptions: _exceptions, threads: _threads, images: _images, trail: _trail, remarks: _remarks, ...rest } = report;
  const { sections: _sections, flags: _flags, attributes: _attributes, ...head } = rest;
  return { head, body, excluded, weight, timeOfDevice };
}

/**
 * Inserts reports and queues them for processing. Gives the ids that were new: an id that was stored before is a duplicate
 * and changes nothing.
 */
export async function insertReports(
  transaction: Knex.Transaction,
  { appId, reports, receivedAt }: { appId: number; reports: readonly StorableReport[]; receivedAt: Date },
): Promise<Set<string>> {
  if (reports.length === 0) return new Set();
  const rows = reports.map(({ head: report, excluded, weight, body }) => ({
    app_id: appId,
    report_id: uuidBytes(report.id),
    kind: report.kind,
    occurred_at: new Date(report.occurredAt),
    received_at: receivedAt,
    ...contextColumns(report),
    session_id: report.sessionId ? uuidBytes(report.sessionId) : null,
    excluded,
    weight,
    body_bytes: Buffer.byteLength(body),
  }));
  const inserted = (await insertRows(transaction, 'reports', rows, { ignoreKnown: true, behind: 'RETURNING id, report_id' })) as {
    id: number;
    report_id: Buffer;
  }[];
  const rowById = new Map(inserted.map((row) => [uuidText(row.report_id), row.id]));
  if (rowById.size === 0) return new Set<string>();

  const bodies = new Map<number, string>();
  for (const { head, body } of reports) {
    const row = rowById.get(head.id.toLowerCase());
    if (row !== undefined && !bodies.has(row)) bodies.set(row, body);
  }
  const bodyRows = [...bodies].map(([row, body]) => ({ report_row: row, body }));
  // A database may take no more than 16 MB in one statement.
  for (const some of partsOfSize(bodyRows, ({ body }) => body.length, statementCharacters))
    await insertRows(transaction, 'report_bodies', some);
  await queueJobs(transaction, { kind: 'process-report', appId, priority: 'arrived' }, [...bodies.keys()]);
  return new Set(rowById.keys());
}

const statementCharacters = 4_000_000;

/** A report to be processed, as it was accepted; its body stays text for whoever parses it off the event loop. */
export interface StoredReport {
  readonly report: Pick<Report, 'kind' | 'version' | 'build'> & { readonly excluded: boolean };
  readonly body: string;
}

/** Reports by row; rows that are gone are left out. */
export async function loadReports(database: Database, rows: readonly number[]): Promise<Map<number, StoredReport>> {
  const found: { row: number; kind: ReportKind; version: string; build: string; excluded: number; body: string }[] = await database(
    'reports',
  )
    .join('report_bodies', 'report_bodies.report_row', 'reports.id')
    .whereIn('reports.id', rows)
    .select({ row: 'reports.id', kind: 'kind', version: 'version', build: 'build', excluded: 'excluded', body: 'body' });
  return new Map(found.map(({ row, body, excluded, ...report }) => [row, { report: { ...report, excluded: excluded === 1 }, body }]));
}

/** Keeps a report that could not be processed, with the reason. */
export async function markReportFailed(
  database: Database,
  row: number,
  { problem, program }: { problem: string; program: string },
): Promise<void> {
  await database('reports')
    .where({ id: row })
    .update({ state: 'failed', problem: problem.slice(0, 500), tried_by: program, processed_at: new Date() });
}

export interface ReportSummary {
  readonly reportId: string;
  readonly kind: ReportKind;
  readonly occurredAt: Date;
  readonly receivedAt: Date;
  readonly version: string;
  readonly build: string;
  readonly osName: string | null;
  readonly osVersion: string | null;
  readonly deviceModel: string | null;
  readonly state: 'waiting' | 'processed' | 'failed' | 'emptied';
  readonly problem: string | null;
}

/** A report with its stacks: readable ones once it was processed. */
export interface ReportDetail extends ReportSummary {
  readonly report: Report;
  readonly readable: ReadableReport | null;
  readonly explanation: GroupingExplanation | null;
}

const summaryColumns = {
  row: 'reports.id',
  reportIdBytes: 'report_id',
  kind: 'kind',
  occurredAt: 'occurred_at',
  receivedAt: 'received_at',
  version: 'version',
  build: 'build',
  osName: 'os_name',
  osVersion: 'os_version',
  deviceModel: 'device_model',
  state: 'state',
  problem: 'problem',
} as const;

type SummaryRow = Omit<ReportSummary, 'reportId'> & { row: number; reportIdBytes: Buffer };

const toSummary = ({ row: _row, reportIdBytes, ...rest }: SummaryRow): ReportSummary => ({ reportId: uuidText(reportIdBytes), ...rest });

/** Reads the detail of the first report that the query gives. */
async function readReportDetail(query: Knex.QueryBuilder): Promise<ReportDetail | null> {
  const found = await query
    .join('report_bodies', 'report_bodies.report_row', 'reports.id')
    .first({ ...summaryColumns, body: 'body', readable: 'readable', explanation: 'explanation' });
  if (!found) return null;
  const { body, readable, explanation, ...row } = found as SummaryRow & {
    body: string;
    readable: string | null;
    explanation: string | null;
  };
  return {
    ...toSummary(row),
    report: readStored(reportForm, body),
    readable: readable === null ? null : readStored(readableForm, readable),
    explanation: explanation === null ? null : readStored(explanationForm, explanation),
  };
}

export async function findReport(database: Database, appId: number, reportId: string): Promise<ReportDetail | null> {
  return readReportDetail(database('reports').where({ app_id: appId, report_id: uuidBytes(reportId) }));
}

/** The report of a row of the store. */
export async function loadReportDetail(database: Database, row: number): Promise<ReportDetail | null> {
  return readReportDetail(database('reports').where({ 'reports.id': row }));
}

/** The version of each of some reports, by their rows; those that are gone are left out. */
export async function versionsOfReports(database: Database, rows: readonly number[]): Promise<Map<number, string>> {
  const found: { id: number; version: string }[] = await database('reports').whereIn('id', rows).select('id', 'version');
  return new Map(found.map(({ id, version }) => [id, version]));
}

/** The stored bodies of processed reports, the newest first, a part of bounded size at a time. */
export async function* readBodies(database: Database, rows: readonly number[]): AsyncIterable<readonly string[]> {
  const sized = await database('reports').whereIn('id', rows).orderBy('id', 'desc').select(sizedRow(database));
  for (const part of partsOfSize(sized, ({ bytes }) => bytes, bodiesAtOnceBytes))
    yield await database('report_bodies')
      .whereIn(
        'report_row',
        part.map(({ row }) => row),
      )
      .whereNotNull('readable')
      .orderBy('report_row', 'desc')
      .pluck('body');
}

/** The newest rows of an app that were processed and still hold what they were sent. */
export async function newestProcessed(database: Database, appId: number, limit: number): Promise<number[]> {
  return database('reports').where({ app_id: appId, state: 'processed' }).orderBy('id', 'desc').limit(limit).pluck('id');
}

/** The row of a report; null when there is none of this id. */
export async function findReportRow(database: Database, appId: number, reportId: string): Promise<number | null> {
  const found = await database('reports')
    .where({ app_id: appId, report_id: uuidBytes(reportId) })
    .first('id');
  return found?.id ?? null;
}

/** The case of a report; null when it is in none yet. */
export async function findReportPlace(
  database: Database,
  appId: number,
  reportId: string,
): Promise<{ row: number; caseId: number; number: number } | null> {
  const found = await database('reports')
    .join('cases', 'cases.id', 'reports.case_id')
    .where({ 'reports.app_id': appId, report_id: uuidBytes(reportId) })
    .first({ row: 'reports.id', caseId: 'cases.id', number: 'cases.number' });
  return found ?? null;
}

/** The case numbers that reports went to, by report id; a report that still waits is left out. */
export async function findCaseNumbers(database: Database, appId: number, reportIds: readonly string[]): Promise<Map<string, number>> {
  const rows: { report_id: Buffer; number: number }[] = await database('reports')
    .join('cases', 'cases.id', 'reports.case_id')
    .where('reports.app_id', appId)
    .whereIn('report_id', reportIds.map(uuidBytes))
    .select('report_id', 'number');
  return new Map(rows.map((row) => [uuidText(row.report_id), row.number]));
}
