import { type EncodedRecord, exportRequest } from '@rough-ember/core/otlp/items-to-records';
import { SendProblem } from '../alerts/channels/channel-kind.ts';
import { guardedRequest } from '../alerts/guarded-request.ts';
import { serverVersion } from '../server-version.ts';

/** A receiver that speaks OTLP/HTTP. */
export interface Receiver {
  readonly address: string;
  readonly headers: Readonly<Record<string, string>>;
  readonly mayReachPrivate: boolean;
}

/** How many of the records the receiver took, and what it said of the others. */
export interface SentRecords {
  readonly taken: number;
  readonly refused: number;
  readonly said: string | null;
}

/** Answers after which the same request is sent again (OTLP specification, "OTLP/HTTP Response", Retryable Response Codes). */
const retryable: ReadonlySet<number> = new Set([429, 502, 503, 504]);
/** The receiver does not know this server, or has nothing at this address: whoever set it up has to put it right. */
const misdirected: ReadonlySet<number> = new Set([401, 403, 404, 405, 407]);

/**
 * Sends records in one request; one that is refused whole is halved until the record is found that the receiver does not take. Throws a
 * SendProblem where all of them are to wait.
 */
export async function sendRecords(receiver: Receiver, records: readonly EncodedRecord[]): Promise<SentRecords> {
  if (records.length === 0) return { taken: 0, refused: 0, said: null };
  const { address, headers, mayReachPrivate } = receiver;
  const body = JSON.stringify(exportRequest(records, serverVersion));
  const answer = await guardedRequest(address, {
    method: 'POST',
    headers: { ...headers, 'content-type': 'application/json' },
    body,
    mayReachPrivate,
  }).catch((error: unknown) => {
    throw new SendProblem(error instanceof Error ? error.message : String(error));
  });
  const { status, text, retryAfterSeconds } = answer;
  if (status >= 200 && status < 300) return { ...rejectedOf(text, records.length) };
  const said = `the receiver answered ${status}${text.trim() === '' ? '' : `: ${text.trim().replace(/\s+/g, ' ').slice(0, 300)}`}`;
  if (retryable.has(status) || misdirected.has(status) || (status >= 300 && status < 400) || status >= 500)
    throw new SendProblem(said, false, retryAfterSeconds);
  if (records.length === 1) return { taken: 0, refused: 1, said };
  const half = records.length >> 1;
  const first = await sendRecords(receiver, records.slice(0, half));
  const second = await sendRecords(receiver, records.slice(half));
  return { taken: first.taken + second.taken, refused: first.refused + second.refused, said: second.said ?? first.said };
}

/** A partial success says how many it did not take; it is not to be sent again (OTLP specification, "Partial Success"). */
function rejectedOf(text: string, count: number): SentRecords {
  try {
    const { partialSuccess } = JSON.parse(text) as { partialSuccess?: { rejectedLogRecords?: unknown; errorMessage?: unknown } };
    const refused = Math.min(count, Math.max(0, Number(partialSuccess?.rejectedLogRecords ?? 0) || 0));
    const said =
      typeof partialSuccess?.errorMessage === 'string' && partialSuccess.errorMessage !== '' ? partialSuccess.errorMessage : null;
    return { taken: count - refused, refused, said: said === null ? null : said.slice(0, 300) };
  } catch {
    return { taken: count, refused: 0, said: null };
  }
}
