import { randomUUID } from 'node:crypto';
import { crashFileLimitBytes } from '@rough-ember/core/report/crash-file';
import { joinSessions } from '@rough-ember/core/report/session';
import type { StorableAttachment } from '@rough-ember/store/attachments';
import { countItems } from '@rough-ember/store/credentials';
import { storeItems } from '@rough-ember/store/intake-items';
import type { IntakeOutcome } from '@rough-ember/store/intake-log';
import type { StorableSession } from '@rough-ember/store/sessions';
import { ApiError } from '../errors.ts';
import type { Services } from '../services.ts';
import { type IntakePolicy, type ParsedLine, parseBatch, parseOtlp, wordIssues } from './parse-batch.ts';
import { fileParametersSchema, reportsOfAFile } from './read-crash-file.ts';

/** Who sends, and what decides over what is sent. */
export interface IntakeSender extends IntakePolicy {
  readonly appId: number;
  /** Null when a signed-in person hands a file over. */
  readonly keyId: number | null;
}

/** What became of one item. */
export interface ItemOutcome {
  readonly line: number;
  readonly id: string | null;
  readonly what: string;
  readonly outcome: IntakeOutcome;
  readonly reason: string | null;
}

export interface Received {
  readonly items: readonly ItemOutcome[];
  /** What it was, for the intake log. */
  readonly what: string;
  /** The first report that was stored now. */
  readonly reportId: string | null;
}

/** Above this the text is parsed on a worker thread; below, handing it over would take longer than parsing it. */
const inlineBytes = 32 * 1024;

/** An app's own patterns run in linear time, but some of them slowly. */
const isHeavy = (body: Buffer, { scrub }: IntakePolicy): boolean => body.length > inlineBytes || scrub.patterns.length > 0;

/** Takes the items of a batch; when this returns, what it calls accepted is committed. */
export async function receiveBatch(services: Services, sender: IntakeSender, body: Buffer): Promise<Received> {
  const policy = { rules: sender.rules, scrub: sender.scrub };
  const lines = isHeavy(body, policy) ? await services.workers.run('parseBatch', body, policy) : parseBatch(body, policy);
  if (lines.length === 0) throw new ApiError('bad-request', 'The body is empty; one JSON item is expected on each line.');
  return keep(services, sender, lines, wordLines(lines));
}

/** Takes the records of an OTLP request. */
export async function receiveOtlp(
  services: Services,
  sender: IntakeSender,
  { body, encoding }: { body: Buffer; encoding: 'json' | 'protobuf' },
): Promise<Received> {
  const policy = { rules: sender.rules, scrub: sender.scrub, receivedAt: new Date().toISOString() };
  const lines = isHeavy(body, policy) ? await services.workers.run('parseOtlp', body, encoding, policy) : parseOtlp(body, encoding, policy);
  if (lines === null) throw new ApiError('bad-request', `The body is no OTLP ExportLogsServiceRequest in ${encoding}.`);
  return keep(services, sender, lines, lines.length === 0 ? 'OTLP, no records' : `OTLP, ${wordLines(lines)}`);
}

/** Takes a crash file; each report in it is kept, the file itself beside the first of them. */
export async function receiveFile(
  services: Services,
  sender: IntakeSender,
  { body, parameters }: { body: Buffer; parameters: Readonly<Record<string, string>> },
): Promise<Received> {
  const parsed = fileParametersSchema.safeParse(parameters);
  if (!parsed.success) throw new ApiError('bad-request', `The address parameters cannot be used: ${wordIssues(parsed.error)}.`);
  const read = await services.workers.run('readCrashFile', {
    bytes: body,
    parameters: parsed.data,
    policy: { rules: sender.rules, scrub: sender.scrub },
    receivedAt: new Date().toISOString(),
    freshIds: Array.from({ length: reportsOfAFile }, () => randomUUID()),
  });
  if (!read.ok) {
    const { code, message } = read.problem;
    throw new ApiError(code, `The file cannot be used: ${message}.`, code === 'too-large' ? { limitBytes: crashFileLimitBytes } : {});
  }
  const { lines, format, original } = read.value;
  const first = lines.find((line) => line.taken === 'report')?.id ?? null;
  const attached = original && first !== null ? [{ ...original, id: randomUUID(), reportId: first }] : [];
  return keep(services, sender, lines, `${format}, ${lines[0]?.what}`, attached);
}

/** Stores what was taken and says of each line what became of it. */
async function keep(
  services: Services,
  sender: IntakeSender,
  lines: readonly ParsedLine[],
  what: string,
  originals: readonly StorableAttachment[] = [],
): Promise<Received> {
  await limitRate(services, sender, lines.length);
  const reports = lines.flatMap((line) => (line.taken === 'report' ? [line.report] : []));
  const attachments = [...lines.flatMap((line) => (line.taken === 'attachment' ? [line.attachment] : [])), ...originals];
  const stored = await storeItems(services.database, {
    appId: sender.appId,
    items: { reports, attachments, sessions: joinedSessions(lines) },
    receivedAt: new Date(),
  });
  const reportId = reports.find((report) => stored.reports.has(report.head.id.toLowerCase()))?.head.id.toLowerCase() ?? null;
  if (stored.reports.size > 0) services.jobs.wake();
  // An id counts as accepted once, also when one batch holds it twice.
  const items = lines.map((line): ItemOutcome => {
    const { id, what: named } = line;
    const told = (outcome: IntakeOutcome, reason: string | null = null): ItemOutcome => ({
      line: line.line,
      id,
      what: named,
      outcome,
      reason,
    });
    switch (line.taken) {
      case null:
        return told(line.outcome, line.reason);
      case 'session':
        return told(line.session.apart ? 'apart' : 'accepted');
      case 'attachment':
        if (stored.attachmentsBeyondLimit.has(line.attachment.id))
          return told('refused', 'the report has as many attachments as it may have');
        return told(stored.attachments.delete(line.attachment.id) ? 'accepted' : 'duplicate');
      default:
        if (!stored.reports.delete(line.report.head.id.toLowerCase())) return told('duplicate');
        return line.report.apart ? told('apart', `kept apart: the build is of type "${line.report.head.buildType}"`) : told('accepted');
    }
  });
  return { items, what, reportId };
}

/** The sessions of a request, each once. */
function joinedSessions(lines: readonly ParsedLine[]): StorableSession[] {
  const sessions = new Map<string, StorableSession>();
  for (const line of lines) {
    if (line.taken !== 'session') continue;
    const { id } = line.session.known.first;
    const known = sessions.get(id);
    sessions.set(id, known ? { ...known, known: joinSessions(known.known, line.session.known) } : line.session);
  }
  return [...sessions.values()];
}

/** Counts items against the limit of the key; too many are refused before anything is stored. */
async function limitRate(services: Services, { keyId, rules }: IntakeSender, items: number): Promise<void> {
  if (keyId === null || rules.itemsPerMinute === null) return;
  const now = Date.now();
  const minute = Math.floor(now / 60_000);
  const count = await countItems(services.database, keyId, items, minute);
  if (count <= rules.itemsPerMinute) return;
  const retryAfterSeconds = Math.max(1, Math.ceil(((minute + 1) * 60_000 - now) / 1000));
  throw new ApiError('too-many-items', `This key takes ${rules.itemsPerMinute} items a minute, and ${count} came.`, { retryAfterSeconds });
}

/** "3 crash reports, 2 sessions, 4.3.0" */
function wordLines(lines: readonly ParsedLine[]): string {
  const counts = new Map<string, number>();
  for (const line of lines) {
    const what = line.taken === 'report' ? line.report.head.kind : (line.what.split(', ')[0] ?? 'item');
    counts.set(what, (counts.get(what) ?? 0) + 1);
  }
  const words = [...counts].slice(0, 6).map(([what, count]) => (count === 1 ? what : `${count} × ${what}`));
  const versions = [
    ...new Set(
      lines.flatMap((line) =>
        line.taken === 'report' ? [line.report.head.version] : line.taken === 'session' ? [line.session.known.first.version] : [],
      ),
    ),
  ];
  return [...words, ...(versions.length > 3 ? [`${versions.length} versions`] : versions)].join(', ');
}
