import { elapsedMs } from './elapsed.ts';
import type { Outbox } from './outbox.ts';

const mostBatchItems = 50;
const gatherMs = 300;
const firstWaitMs = 1_000;
const longestWaitMs = 300_000;
const mostTold = 20;
/** A server that has not answered by then is away. */
const longestAnswerMs = 30_000;

export interface SenderParts {
  readonly outbox: Outbox;
  readonly server: string;
  readonly key: string;
  /** The platform's own fetch, taken before it is watched for the trail. */
  readonly fetch: typeof fetch;
  /** Says something to whoever develops the app; taken before the console is watched for the trail. */
  readonly tell: (words: string) => void;
  readonly longestAnswerMs?: number;
}

interface SaidOfItem {
  readonly outcome?: string;
  readonly reason?: string;
  readonly remarks?: string[];
}

/** An answer of the server, or of whoever answers in its place. */
type Said = {
  readonly items?: SaidOfItem[];
  readonly error?: { readonly message?: string; readonly remedy?: string };
} | null;

/** Sends what waits, in batches, one at a time; steps back when the server is away or asks for it. */
export class Sender {
  private timer: ReturnType<typeof setTimeout> | null = null;
  private sending: Promise<void> | null = null;
  private failures = 0;
  /** The server asked, or failed: until then nothing is sent, whoever wants it. */
  private notBefore = 0;
  private refused = false;
  private stopped = false;
  private batchItems = mostBatchItems;
  private readonly told = new Set<string>();

  constructor(private readonly parts: SenderParts) {}

  /** Sends soon; several calls in a moment make one batch. */
  soon(delayMs = gatherMs): void {
    if (this.timer !== null || this.refused || this.stopped || this.parts.outbox.size === 0) return;
    const wait = Math.max(delayMs, this.notBefore - elapsedMs());
    this.timer = setTimeout(() => {
      this.timer = null;
      void this.now();
    }, wait);
    // In Node a waiting batch must not keep the program alive; it is sent at the next launch.
    (this.timer as { unref?: () => void }).unref?.();
  }

  /** Sends now what waits; resolves when the server has answered or cannot be reached. */
  now(): Promise<void> {
    if (elapsedMs() < this.notBefore) return Promise.resolve();
    this.sending ??= this.send().finally(() => {
      this.sending = null;
    });
    return this.sending;
  }

  /** Sends once more, and then no more: what the server did not take waits for the next launch. */
  async stop(): Promise<void> {
    this.stopped = true;
    this.forgetTimer();
    await this.now();
  }

  private async send(): Promise<void> {
    const { outbox, server, key, fetch: send } = this.parts;
    while (outbox.size > 0 && !this.refused) {
      const items = outbox.first(this.batchItems);
      let answer: Response;
      let said: Said;
      const patience = typeof AbortController === 'undefined' ? null : new AbortController();
      const timer = setTimeout(() => patience?.abort(), this.parts.longestAnswerMs ?? longestAnswerMs);
      (timer as { unref?: () => void }).unref?.();
      try {
        answer = await send(`${server}/intake/v1/batch`, {
          method: 'POST',
          signal: patience?.signal ?? null,
          headers: { authorization: `Bearer ${key}`, 'content-type': 'application/x-ndjson' },
          body: items.map((item) => JSON.stringify(item)).join('\n'),
          // Lets a small batch out even while the page goes away.
          keepalive: JSON.stringify(items).length < 60_000,
        });
        said = await answer.json().catch(() => null);
      } catch {
        return this.later();
      } finally {
        clearTimeout(timer);
      }
      // 400 names refused lines: they would be refused again, and the others were taken. Whoever stands between, such as the page on
      // which a hotel asks for a room number, answers with success and names nothing: then nothing was taken.
      if ((answer.ok || answer.status === 400) && Array.isArray(said?.items)) {
        this.tell(answer, said);
        outbox.remove(items);
        this.failures = 0;
      } else if (answer.status === 413) {
        this.tell(answer, said);
        // Too large together: one at a time, and what is too large alone is given up.
        if (items.length > 1) this.batchItems = 1;
        else outbox.remove(items);
      } else if (answer.status === 401 || answer.status === 403) {
        this.tell(answer, said);
        // A key that is not taken will not be taken in this launch; what waits stays for the next.
        this.refused = true;
      } else return this.later(Number(answer.headers.get('retry-after')) * 1_000 || 0);
    }
  }

  /**
   * Says once on the console what a server refused, changed or excluded, and why: whoever develops the app should see it, and
   * nobody else can mend it. An answer that is none of ours says nothing.
   */
  private tell(answer: Response, said: Said): void {
    const items = Array.isArray(said?.items) ? said.items : [];
    const words = [
      ...(answer.ok || answer.status === 400 ? [] : [`${said?.error?.message ?? `status ${answer.status}`} ${said?.error?.remedy ?? ''}`]),
      ...items.flatMap((item) => (item?.outcome === 'refused' || item?.outcome === 'excluded' ? [`${item.outcome}: ${item.reason}`] : [])),
      ...items.flatMap((item) => (Array.isArray(item?.remarks) ? item.remarks.map((remark) => `put right: ${remark}`) : [])),
    ];
    for (const word of words) {
      if (this.told.has(word) || this.told.size >= mostTold) continue;
      this.told.add(word);
      this.parts.tell(`Rough Ember, ${word}`);
    }
  }

  private later(askedMs = 0): void {
    const wait = Math.min(longestWaitMs, firstWaitMs * 2 ** this.failures++) * (0.75 + Math.random() / 2);
    this.notBefore = elapsedMs() + Math.max(askedMs, wait);
    this.forgetTimer();
    this.soon();
  }

  private forgetTimer(): void {
    if (this.timer !== null) clearTimeout(this.timer);
    this.timer = null;
  }
}
