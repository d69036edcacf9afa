import { randomUUID } from 'node:crypto';
import { crashFileLimitBytes } from '@rough-ember/core/report/formats/crash-file';
import { joinSessions } from '@rough-ember/core/report/session';
import type { StorableAttachment } from '@rough-ember/store/attachments';
import { countItems } from '@rough-ember/store/credentials';
import type { Database } from '@rough-ember/store/database';
import { storeItems } from '@rough-ember/store/intake-items';
import type { IntakeOutcome } from '@rough-ember/store/intake-outcomes';
import type { StorableSession } from '@rough-ember/store/sessions';
import { ApiError } from '../errors.ts';
import { type IntakePolicy, type ParsedLine, parseBatch, parseOtlp, type UnreadableBody } from './parse-batch.ts';
import { type FileParameters, readFileTask, reportsOfAFile } from './read-crash-file.ts';

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
  /** What was changed so that it could be kept. */
  readonly remarks: readonly string[];
  /** How many items this one stands for; 1 where nothing is told. */
  readonly stands?: number;
}

/** What became of a request. It is plain data: a worker thread may have made it. */
export interface Received {
  readonly items: readonly ItemOutcome[];
  /** What it was, for the intake log. */
  readonly what: string;
  /** The first report that was stored now. */
  readonly reportId: string | null;
}

/** Takes the items of a batch; when this returns, what it calls accepted is committed. The caller has asked the rate. */
export async function takeBatch(database: Database, sender: IntakeSender, body: Uint8Array): Promise<Received> {
  const lines = readable(parseBatch(body, sender, arrivalNow()));
  return keep(database, sender, lines, wordLines(lines));
}

/** Takes the records of an OTLP request. */
export async function takeOtlp(
  database: Database,
  sender: IntakeSender,
  body: Uint8Array,
  encoding: 'json' | 'protobuf',
): Promise<Received> {
  const lines = readable(parseOtlp(body, encoding, sender, arrivalNow()));
  await limitRate(database, sender, lines.length);
  return keep(database, sender, lines, lines.length === 0 ? 'OTLP, no records' : `OTLP, ${wordLines(lines)}`);
}

/** Takes a crash file; each report in it is kept, the file itself beside the first of them. `remarks`: on its parameters. */
export async function takeFile(
  database: Database,
  sender: IntakeSender,
  { bytes, parameters, remarks }: { readonly bytes: Uint8Array; readonly parameters: FileParameters; readonly remarks: readonly string[] },
): Promise<Received> {
  const freshIds = Array.from({ length: reportsOfAFile }, () => randomUUID());
  const read = readFileTask({ bytes, parameters, remarks, policy: sender, ...arrivalNow(), byHand: sender.keyId === null, freshIds });
  if (!read.ok) {
    const { code, message } = read.problem;
    throw new ApiError(code, `The file cannot be used: ${message}.`, code === 'too-large' ? { limitBytes: crashFileLimitBytes } : {});
  }
  const { lines, format, original } = read.value;
  await limitRate(database, sender, lines.length);
  const first = lines.find((line) => line.taken === 'report')?.id ?? null;
  const attached = original && first !== null ? [{ ...original, id: randomUUID(), reportId: first }] : [];
  return keep(database, sender, lines, `${format}, ${lines[0]?.what}`, attached);
}

const arrivalNow = () => ({ receivedAt: new Date().toISOString() });

function readable<Line>(read: readonly Line[] | UnreadableBody): readonly Line[] {
  if ('unreadable' in read) throw new ApiError(read.unreadable, read.message);
  return read;
}

/** Stores what was taken and says of each line what became of it. */
async function keep(
  database: Database,
  sender: IntakeSender,
  lines: readonly (ParsedLine & { readonly stands?: number })[],
  what: string,
  originals: readonly StorableAttachment[] = [],
): Promise<Received> {
  const reports = lines.flatMap((line) => (line.taken === 'report' ? [line.report] : []));
  const attachments = [...lines.flatMap((line) => (line.taken === 'attachment' ? [line.attachment] : [])), ...originals];
  const trailEvents = lines.flatMap((line) => (line.taken === 'trail' ? [line.event] : []));
  const sampledOut = lines.flatMap((line) => (line.taken === null && line.ended ? [line.ended] : []));
  const stored = await storeItems(database, {
    appId: sender.appId,
    items: { reports, sampledOut, attachments, trailEvents, sessions: joinedSessions(lines) },
    receivedAt: new Date(),
  });
  const reportId = reports.find((report) => stored.reports.has(report.head.id.toLowerCase()))?.head.id.toLowerCase() ?? null;
  // An id counts as accepted once, also when one batch holds it twice.
  const items = lines.map((line): ItemOutcome => {
    const { id, what: named } = line;
    const told = (outcome: IntakeOutcome, reason: string | null = null): ItemOutcome => ({
      line: line.line,
      id,
      what: named,
      outcome,
      reason,
      remarks: outcome === 'accepted' || outcome === 'excluded' ? line.remarks : [],
      ...(line.stands !== undefined && { stands: line.stands }),
    });
    switch (line.taken) {
      case null:
        return told(line.outcome, line.reason);
      case 'trail':
        return told('accepted');
      case 'session':
        return told(line.session.excluded ? 'excluded' : 'accepted');
      case 'attachment':
        if (stored.attachmentsBeyondLimit.has(line.attachment.id))
          return told('refused', 'the report has as many attachments as it may have');
        return told(stored.attachments.delete(line.attachment.id) ? 'accepted' : 'duplicate');
      default:
        if (!stored.reports.delete(line.report.head.id.toLowerCase())) return told('duplicate');
        return line.report.excluded
          ? told('excluded', `excluded from the figures: the build is of type "${line.report.head.buildType}"`)
          : told('accepted');
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

/**
 * Counts items against the limit of the key; too many are refused before anything is stored. Of no items it only asks whether
 * there is room at all, before the work of reading them.
 */
export async function limitRate(database: Database, { keyId, rules }: IntakeSender, items: number): Promise<void> {
  if (keyId === null || rules.itemsPerMinute === null) return;
  const now = Date.now();
  const minute = Math.floor(now / 60_000);
  const count = await countItems(database, keyId, items, minute);
  if (items === 0 ? count < rules.itemsPerMinute : count <= rules.itemsPerMinute) return;
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
