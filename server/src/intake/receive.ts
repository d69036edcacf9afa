import { randomUUID } from 'node:crypto';
import { crashTextFormats, crashTextLimitBytes } from '@rough-ember/core/report/crash-text';
import { printable } from '@rough-ember/core/report/printable';
import { type Report, reportContextSchema } from '@rough-ember/core/report/report';
import { reportKinds } from '@rough-ember/core/report/report-kinds';
import { type StorableReport, storeReports, toStorable } from '@rough-ember/store/reports';
import { z } from 'zod';
import { ApiError } from '../errors.ts';
import type { Services } from '../services.ts';
import { parseBatch, wordIssues } from './parse-batch.ts';

/** What became of one item. */
export type ItemOutcome =
  | { readonly line: number; readonly id: string; readonly outcome: 'accepted' | 'duplicate' }
  | { readonly line: number; readonly id: string | null; readonly outcome: 'refused'; readonly reason: string };

export interface Received {
  readonly items: readonly ItemOutcome[];
  /** What it was, for the intake log. */
  readonly what: string;
}

/** Above this the text is parsed on a worker thread; below, handing it over would take longer than parsing it. */
const inlineBytes = 32 * 1024;

/** Takes the items of a batch; when this returns, what it calls accepted is committed. */
export async function receiveBatch(services: Services, appId: number, body: Buffer): Promise<Received> {
  const lines = body.length > inlineBytes ? await services.workers.run('parseBatch', body) : parseBatch(body);
  if (lines.length === 0) throw new ApiError('bad-request', 'The body is empty; one JSON item is expected on each line.');
  const reports = lines.flatMap((line) => ('report' in line ? [line.report] : []));
  const stored = await storeReports(services.database, { appId, reports, receivedAt: new Date() });
  if (stored.size > 0) services.jobs.wake();
  const items = lines.map((parsed): ItemOutcome => {
    if (!('report' in parsed)) return { line: parsed.line, id: parsed.id, outcome: 'refused', reason: parsed.reason };
    const id = parsed.report.head.id.toLowerCase();
    // An id counts as accepted once, also when one batch holds it twice.
    return { line: parsed.line, id, outcome: stored.delete(id) ? 'accepted' : 'duplicate' };
  });
  return { items, what: wordBatch(reports, lines.length) };
}

function wordBatch(reports: readonly StorableReport[], lines: number): string {
  const [first] = reports;
  if (!first) return lines === 1 ? '1 item' : `${lines} items`;
  const kinds = reportKinds.flatMap((kind) => {
    const count = reports.filter((report) => report.head.kind === kind).length;
    return count === 0 ? [] : [count === 1 ? kind : `${count} ${kind} reports`];
  });
  const versions = [...new Set(reports.map((report) => report.head.version))];
  return `${kinds.join(', ')}, ${versions.length > 3 ? `${versions.length} versions` : versions.join(', ')}`;
}

/** What a sender knows of a crash text: the address parameters of `/intake/v1/file`. */
export const fileParametersSchema = z.object({
  id: z.uuid().optional(),
  kind: z.enum(reportKinds).default('crash'),
  occurredAt: z.iso.datetime({ offset: true }).optional(),
  version: reportContextSchema.shape.version,
  build: reportContextSchema.shape.build,
  osName: z.string().max(50).overwrite(printable).optional(),
  osVersion: z.string().max(50).overwrite(printable).default(''),
  deviceManufacturer: z.string().max(100).overwrite(printable).optional(),
  deviceModel: z.string().max(100).overwrite(printable).optional(),
  installationId: z.uuid().optional(),
  personId: z.string().min(1).max(200).overwrite(printable).optional(),
});

/** Takes a crash text; each crash in it becomes a report. */
export async function receiveFile(
  services: Services,
  appId: number,
  { body, parameters }: { body: Buffer; parameters: Readonly<Record<string, string>> },
): Promise<Received & { reports: readonly string[] }> {
  const parsed = fileParametersSchema.safeParse(parameters);
  if (!parsed.success)
    throw new ApiError(
      'bad-request',
      `The address parameters cannot be used: ${wordIssues(parsed.error)}. "version" and "build" must be given.`,
    );
  const about = parsed.data;
  const receivedAt = new Date();
  const read = await services.workers.run('readCrashText', body, { receivedAt: receivedAt.toISOString() });
  if (!read.ok) {
    if (read.problem.code === 'too-large') throw new ApiError('too-large', read.problem.message, { limitBytes: crashTextLimitBytes });
    throw new ApiError('unreadable-file', `The file cannot be used: ${read.problem.message}.`);
  }
  const crashes = read.value;
  if (about.id !== undefined && crashes.length > 1)
    throw new ApiError('bad-request', `The text holds ${crashes.length} crashes, so one id cannot stand for it; leave "id" out.`);
  const reports = crashes.map(
    (crash): Report => ({
      id: about.id ?? randomUUID(),
      kind: about.kind,
      occurredAt: about.occurredAt ?? crash.occurredAt ?? receivedAt.toISOString(),
      version: about.version,
      build: about.build,
      os: about.osName === undefined ? null : { name: about.osName, version: about.osVersion },
      device: about.deviceModel === undefined ? null : { manufacturer: about.deviceManufacturer ?? null, model: about.deviceModel },
      installationId: about.installationId ?? null,
      personId: about.personId ?? null,
      exceptions: crash.exceptions,
      threads: crash.threads,
      attributes: {
        ...(crash.process === null ? {} : { 'process.name': crash.process }),
        ...(crash.notes.length === 0 ? {} : { 'reader.notes': [...crash.notes] }),
      },
    }),
  );
  const stored = await storeReports(services.database, { appId, reports: reports.map(toStorable), receivedAt });
  if (stored.size > 0) services.jobs.wake();
  const format = crashTextFormats[(crashes[0] as (typeof crashes)[0]).format];
  return {
    items: reports.map((report, index) => {
      const id = report.id.toLowerCase();
      return { line: index + 1, id, outcome: stored.has(id) ? 'accepted' : 'duplicate' };
    }),
    what: `${format}${crashes.length > 1 ? ` with ${crashes.length} crashes` : ''}, ${about.version}`,
    reports: reports.map((report) => report.id),
  };
}
