import { createHash } from 'node:crypto';
import { decodeLogRecords, type LogRecord, parseLogRecords } from '@rough-ember/core/otlp/log-records';
import { itemFromRecord } from '@rough-ember/core/otlp/records-to-items';
import { type AttachmentItem, attachmentLimits } from '@rough-ember/core/report/attachment';
import { type Item, itemSchema } from '@rough-ember/core/report/item';
import { judgeReport, judgeSession, type KeyRules } from '@rough-ember/core/report/key-rules';
import { readStackTexts } from '@rough-ember/core/report/read-stack-texts';
import type { Report } from '@rough-ember/core/report/report';
import { Scrubber, type ScrubRules } from '@rough-ember/core/report/scrub';
import { knownSession } from '@rough-ember/core/report/session';
import type { StorableAttachment } from '@rough-ember/store/attachments';
import { type StorableReport, toStorable } from '@rough-ember/store/reports';
import type { StorableSession } from '@rough-ember/store/sessions';
import type { z } from 'zod';

/** What decides over the items of a request: the rules of its key, and what its app wants scrubbed. */
export interface IntakePolicy {
  readonly rules: KeyRules;
  readonly scrub: ScrubRules;
}

/** One line of a request, read and judged. */
export type ParsedLine = {
  readonly line: number;
  readonly id: string | null;
  /** In words, for the intake log. */
  readonly what: string;
} & (
  | { readonly taken: 'report'; readonly report: StorableReport }
  | { readonly taken: 'session'; readonly session: StorableSession }
  | { readonly taken: 'attachment'; readonly attachment: StorableAttachment }
  | { readonly taken: null; readonly outcome: 'refused' | 'sampled-out'; readonly reason: string }
);

const maximumItems = 5_000;

/** Reads the lines of an NDJSON batch; a bad line never costs a good one. Line numbers count from 1, blank lines too. */
export function parseBatch(bytes: Uint8Array, policy: IntakePolicy): ParsedLine[] {
  const judge = new Judge(policy);
  const parsed: ParsedLine[] = [];
  new TextDecoder()
    .decode(bytes)
    .split('\n')
    .forEach((text, index) => {
      if (text.trim() === '') return;
      const line = index + 1;
      if (parsed.length >= maximumItems)
        parsed.push(refused(line, null, 'item', `a batch holds at most ${maximumItems} items; send the rest in another`));
      else parsed.push(parseLine(text, line, judge));
    });
  return parsed;
}

function parseLine(text: string, line: number, judge: Judge): ParsedLine {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (error) {
    return refused(line, null, 'item', `line ${line} is not JSON: ${(error as Error).message}`);
  }
  return judge.item(value, line, `line ${line}: `);
}

/** Reads an OTLP request; null when the bytes are none. Lines are the records, from 1. */
export function parseOtlp(
  bytes: Uint8Array,
  encoding: 'json' | 'protobuf',
  policy: IntakePolicy & { readonly receivedAt: string },
): ParsedLine[] | null {
  let records: LogRecord[] | null;
  try {
    records = encoding === 'json' ? parseLogRecords(new TextDecoder().decode(bytes)) : decodeLogRecords(bytes);
  } catch {
    records = null;
  }
  if (records === null) return null;
  const judge = new Judge(policy);
  return records.map((record, index) => {
    const line = index + 1;
    if (index >= maximumItems) return refused(line, null, 'log record', `a request holds at most ${maximumItems} records`);
    const from = itemFromRecord(record, { receivedAt: policy.receivedAt, makeId: idOf });
    return from.item === null ? refused(line, null, 'log record', from.reason) : judge.item(from.item, line, '');
  });
}

/** A UUID made of a hash (RFC 9562, version 8), so that a record that is sent again is the same report. */
const idOf = (text: string): string =>
  createHash('sha256')
    .update(text)
    .digest('hex')
    .replace(/^(.{8})(.{4}).(.{3}).(.{3})(.{12}).*$/, '$1-$2-8$3-8$4-$5');

const refused = (line: number, id: string | null, what: string, reason: string): ParsedLine => ({
  line,
  id,
  what,
  taken: null,
  outcome: 'refused',
  reason,
});

/** Checks items, judges them by the key's rules, and scrubs what is taken. */
export class Judge {
  private readonly scrubber: Scrubber;

  constructor(private readonly policy: IntakePolicy) {
    this.scrubber = new Scrubber(policy.scrub);
  }

  item(value: unknown, line: number, place: string): ParsedLine {
    const item = itemSchema.safeParse(value);
    return item.success ? this.take(item.data, line) : refused(line, readId(value), readType(value), `${place}${wordIssues(item.error)}`);
  }

  private take(item: Item, line: number): ParsedLine {
    const id = item.id.toLowerCase();
    if (item.type === 'attachment') return this.attachment(item, line);
    if (item.type === 'session') {
      const { type: _type, ...session } = item;
      const verdict = judgeSession(this.policy.rules, session);
      const what = `session ${session.state === 'open' ? (session.sequence === 0 ? 'start' : 'update') : session.state}, ${session.version}`;
      if (!verdict.take) return { line, id, what, taken: null, outcome: verdict.outcome, reason: verdict.reason };
      return {
        line,
        id,
        what,
        taken: 'session',
        session: { known: knownSession(this.scrubber.session({ ...session, id })), apart: verdict.apart },
      };
    }
    const { type: _type, ...report } = item;
    return this.report(report, line);
  }

  report(report: Report, line: number): ParsedLine {
    const id = report.id.toLowerCase();
    const what = `${report.kind}, ${report.version}`;
    const verdict = judgeReport(this.policy.rules, report);
    if (!verdict.take) return { line, id, what, taken: null, outcome: verdict.outcome, reason: verdict.reason };
    return { line, id, what, taken: 'report', report: toStorable(this.scrubber.report(readStackTexts(report)), { apart: verdict.apart }) };
  }

  private attachment({ id, reportId, kind, name, mediaType, data }: AttachmentItem, line: number): ParsedLine {
    const bytes = Buffer.from(data, 'base64');
    if (bytes.length > attachmentLimits.bytes)
      return refused(line, id, kind, `the attachment has ${bytes.length} bytes; at most ${attachmentLimits.bytes} are taken`);
    const isText = mediaType.startsWith('text/') || mediaType === 'application/json';
    const content = isText ? Buffer.from(this.scrubber.text(bytes.toString('utf8'))) : bytes;
    const attachment = { id: id.toLowerCase(), reportId: reportId.toLowerCase(), kind, name: this.scrubber.text(name), mediaType, content };
    return { line, id: attachment.id, what: `${kind} attachment`, taken: 'attachment', attachment };
  }

  /** A text as it may be stored. */
  text(text: string): string {
    return this.scrubber.text(text);
  }
}

const readId = (value: unknown): string | null =>
  typeof value === 'object' && value !== null && 'id' in value && typeof value.id === 'string' ? value.id.slice(0, 100) : null;

const readType = (value: unknown): string =>
  typeof value === 'object' && value !== null && 'type' in value && typeof value.type === 'string' ? value.type.slice(0, 40) : 'item';

/** The first few things that are wrong, each with the place it stands at. */
export function wordIssues(error: z.ZodError): string {
  return error.issues
    .slice(0, 3)
    .map(({ path, message }) => {
      if (path.length === 0) return message;
      return message.endsWith('received undefined') ? `${path.join('.')} is missing` : `${path.join('.')}: ${message}`;
    })
    .join('; ');
}
