import { createHash } from 'node:crypto';
import { decodeLogRecords, parseLogRecords } from '@rough-ember/core/otlp/log-records';
import { itemFromRecord } from '@rough-ember/core/otlp/records-to-items';
import { type AttachmentItem, attachmentLimits } from '@rough-ember/core/report/attachment';
import type { Item } from '@rough-ember/core/report/item';
import { judgeReport, judgeSession, type KeyRules } from '@rough-ember/core/report/key-rules';
import { landAtArrival } from '@rough-ember/core/report/mend/arrival-time';
import { fitReport } from '@rough-ember/core/report/mend/fit-report';
import { parseLenientJson } from '@rough-ember/core/report/mend/lenient-json';
import { mendItem, mendTrailEvent } from '@rough-ember/core/report/mend/mend-item';
import { readStackTexts } from '@rough-ember/core/report/read-stack-texts';
import type { Report } from '@rough-ember/core/report/report';
import { Scrubber, type ScrubRules } from '@rough-ember/core/report/scrub';
import { knownSession } from '@rough-ember/core/report/session';
import type { StorableAttachment } from '@rough-ember/store/attachments';
import { type EndingReport, type StorableReport, toStorable } from '@rough-ember/store/reports';
import type { StorableTrailEvent } from '@rough-ember/store/session-trails';
import type { StorableSession } from '@rough-ember/store/sessions';
import type { z } from 'zod';
import { hasTooManyValues } from './count-lines.ts';
import { intakeLimits } from './intake-limits.ts';

/** What decides over the items of a request: the rules of its key, and what its app wants scrubbed. */
export interface IntakePolicy {
  readonly rules: KeyRules;
  readonly scrub: ScrubRules;
}

/** When a request came: it stands for the times that items do not tell. */
export interface Arrival {
  /** ISO time. */
  readonly receivedAt: string;
  /** A person hands it over, who may have it from long ago. */
  readonly byHand?: boolean;
}

/** One line of a request, read and judged. */
export type ParsedLine = {
  readonly line: number;
  readonly id: string | null;
  /** In words, for the intake log. */
  readonly what: string;
  /** What was changed so that it could be kept. */
  readonly remarks: readonly string[];
} & (
  | { readonly taken: 'report'; readonly report: StorableReport }
  | { readonly taken: 'session'; readonly session: StorableSession }
  | { readonly taken: 'attachment'; readonly attachment: StorableAttachment }
  | { readonly taken: 'trail'; readonly event: StorableTrailEvent }
  | {
      readonly taken: null;
      readonly outcome: 'refused' | 'sampled-out' | 'passed-over';
      readonly reason: string;
      /** What a report that is sampled out tells of its session, which ended badly all the same. */
      readonly ended?: EndingReport;
    }
);

/** A request of which nothing can be read, or too much. */
export type UnreadableBody = { readonly unreadable: 'bad-request' | 'too-many-lines'; readonly message: string };

const tooManyValues: UnreadableBody = {
  unreadable: 'too-many-lines',
  message: `The body holds more than ${intakeLimits.jsonValues} values; send it in smaller parts.`,
};

/**
 * Reads the lines of an NDJSON batch, of which the caller has counted that they are not too many; a bad line never costs a good
 * one. Line numbers count from 1, blank lines too.
 */
export function parseBatch(bytes: Uint8Array, policy: IntakePolicy, arrival: Arrival): ParsedLine[] | UnreadableBody {
  if (hasTooManyValues(bytes)) return tooManyValues;
  const judge = new Judge(policy, arrival);
  return new TextDecoder()
    .decode(bytes)
    .split('\n')
    .flatMap((text, index) => (text.trim() === '' ? [] : [judge.text(text, index + 1)]));
}

/** Reads an OTLP request. Lines are the records, from 1; those beyond the limit are one line that stands for all of them. */
export function parseOtlp(
  bytes: Uint8Array,
  encoding: 'json' | 'protobuf',
  policy: IntakePolicy,
  arrival: Arrival,
): (ParsedLine & { readonly stands?: number })[] | UnreadableBody {
  if (encoding === 'json' && hasTooManyValues(bytes)) return tooManyValues;
  const read = readRecords(bytes, encoding);
  if (read === null) return { unreadable: 'bad-request', message: `The body is no OTLP ExportLogsServiceRequest in ${encoding}.` };
  const judge = new Judge(policy, arrival);
  const lines: (ParsedLine & { stands?: number })[] = read.records.map((record, index) => {
    const line = index + 1;
    const from = itemFromRecord(record, { receivedAt: arrival.receivedAt, makeId: idOf });
    if (from.as === 'item') return judge.item(from.item, { line, text: '', place: '' });
    if (from.as === 'trail') return judge.trailEvent(from, line);
    return { ...refused(line, null, 'log record', from.reason), outcome: from.as };
  });
  if (read.beyond > 0)
    lines.push({
      ...refused(
        lines.length + 1,
        null,
        'log record',
        `a request holds at most ${intakeLimits.items} records; ${read.beyond} more were not read`,
      ),
      stands: read.beyond,
    });
  return lines;
}

function readRecords(bytes: Uint8Array, encoding: 'json' | 'protobuf') {
  try {
    return encoding === 'json'
      ? parseLogRecords(new TextDecoder().decode(bytes), intakeLimits.items)
      : decodeLogRecords(bytes, intakeLimits.items);
  } catch {
    return null;
  }
}

/** A UUID made of a hash (RFC 9562, version 8), so that a record that is sent again is the same report. */
export const idOf = (text: string): string =>
  createHash('sha256')
    .update(text)
    .digest('hex')
    .replace(/^(.{8})(.{4}).(.{3}).(.{3})(.{12}).*$/, '$1-$2-8$3-8$4-$5');

const refused = (line: number, id: string | null, what: string, reason: string) =>
  ({ line, id, what, remarks: [], taken: null, outcome: 'refused', reason }) as const;

/** Where an item stands in its request. */
interface Place {
  readonly line: number;
  /** The item as it was sent. */
  readonly text: string;
  /** Before the reason why it is refused. */
  readonly place: string;
}

/** Puts items right, judges them by the key's rules, and scrubs what is taken. */
export class Judge {
  private readonly scrubber: Scrubber;

  constructor(
    private readonly policy: IntakePolicy,
    private readonly arrival: Arrival,
  ) {
    this.scrubber = new Scrubber(policy.scrub);
  }

  /** A line of a batch. */
  text(text: string, line: number): ParsedLine {
    const place = `line ${line}: `;
    try {
      const { value, mended } = parseLenientJson(text);
      const judged = this.item(value, { line, text, place });
      return mended ? { ...judged, remarks: ['what JSON does not know, such as NaN, became null', ...judged.remarks] } : judged;
    } catch (error) {
      if (!(error instanceof SyntaxError)) throw error;
      return refused(line, null, 'item', `line ${line} is not JSON: ${this.scrubber.text(error.message)}`);
    }
  }

  item(value: unknown, { line, text, place }: Place): ParsedLine {
    const item = mendItem(value, { receivedAt: this.arrival.receivedAt, makeId: idOf, text });
    return item.ok
      ? this.take(item.item, item.remarks, line)
      : refused(line, readText(value, 'id'), readText(value, 'type') ?? 'item', `${place}${wordIssues(item.error)}`);
  }

  private take(item: Item, remarks: readonly string[], line: number): ParsedLine {
    if (item.type === 'attachment') return this.attachment(item, remarks, line);
    if (item.type === 'session') {
      const { type: _type, ...session } = item;
      const id = session.id.toLowerCase();
      const verdict = judgeSession(this.policy.rules, session);
      const what = `session ${session.state === 'open' ? (session.sequence === 0 ? 'start' : 'update') : session.state}, ${session.version}`;
      if (!verdict.take) return { line, id, what, remarks: [], taken: null, outcome: verdict.outcome, reason: verdict.reason };
      return {
        line,
        id,
        what,
        remarks: remarks.map((one) => this.scrubber.text(one)),
        taken: 'session',
        session: { known: knownSession(this.scrubber.session({ ...session, id })), excluded: verdict.excluded },
      };
    }
    const { type: _type, ...report } = item;
    return this.report(report, remarks, line);
  }

  /** `remarks`: what was changed of it until now; the report carries it already. */
  report(report: Report, remarks: readonly string[], line: number): ParsedLine {
    const id = report.id.toLowerCase();
    const what = `${report.kind}, ${report.version}`;
    const verdict = judgeReport(this.policy.rules, report);
    if (!verdict.take) {
      const { outcome, reason } = verdict;
      const told = { line, id, what, remarks: [], taken: null, outcome, reason } as const;
      const { occurredAt: timeOfDevice } = report;
      return verdict.outcome === 'sampled-out'
        ? { ...told, ended: { head: this.headOf(report), timeOfDevice, excluded: verdict.excluded } }
        : told;
    }
    const landed = landAtArrival(report, this.arrival);
    const fitted = fitReport(this.scrubber.report(readStackTexts(landed)));
    return {
      line,
      id,
      what,
      remarks: [...[...remarks, ...landed.remarks.slice(report.remarks.length)].map((one) => this.scrubber.text(one)), ...fitted.remarks],
      taken: 'report',
      report: toStorable(fitted, { excluded: verdict.excluded, weight: verdict.weight, timeOfDevice: report.occurredAt }),
    };
  }

  /** A report without its content, as its session needs it. */
  private headOf(report: Report): EndingReport['head'] {
    const { head } = toStorable({
      report: this.scrubber.report({ ...report, exceptions: [], threads: [], images: [], trail: [] }),
      body: '',
    });
    return head;
  }

  private attachment({ id, reportId, kind, name, mediaType, data }: AttachmentItem, remarks: readonly string[], line: number): ParsedLine {
    const bytes = Buffer.from(data, 'base64');
    if (bytes.length > attachmentLimits.bytes)
      return refused(line, id, kind, `the attachment has ${bytes.length} bytes; at most ${attachmentLimits.bytes} are taken`);
    const isText = mediaType.startsWith('text/') || mediaType === 'application/json';
    const content = isText ? Buffer.from(this.scrubber.text(bytes.toString('utf8'))) : bytes;
    const attachment = { id: id.toLowerCase(), reportId: reportId.toLowerCase(), kind, name: this.scrubber.text(name), mediaType, content };
    return { line, id: attachment.id, what: `${kind} attachment`, remarks, taken: 'attachment', attachment };
  }

  /** What happened in a session, told by itself. */
  trailEvent({ sessionId, event }: { readonly sessionId: string; readonly event: object }, line: number): ParsedLine {
    const mended = mendTrailEvent(event, this.arrival);
    if (mended === null)
      return { ...refused(line, null, 'log record', 'the record tells nothing that a trail could hold'), outcome: 'passed-over' };
    const scrubbed = this.scrubber.trailEvent(mended.event);
    const body = JSON.stringify(scrubbed);
    return {
      line,
      id: null,
      what: 'log record of a session',
      remarks: mended.remarks.map((one) => this.scrubber.text(one)),
      taken: 'trail',
      event: { sessionId: sessionId.toLowerCase(), at: scrubbed.at, body },
    };
  }

  /** A text as it may be stored. */
  scrubbed(text: string): string {
    return this.scrubber.text(text);
  }
}

const readText = (value: unknown, field: 'id' | 'type'): string | null => {
  const found = typeof value === 'object' && value !== null ? (value as Record<string, unknown>)[field] : undefined;
  return typeof found === 'string' ? found.slice(0, 100) : null;
};

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
