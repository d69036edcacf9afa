import type { Outbox } from './outbox.ts';

const mostBatchItems = 50;
const gatherMs = 300;
const firstWaitMs = 1_000;
const longestWaitMs = 300_000;
const mostTold = 20;

export interface SenderParts {
  readonly outbox: Outbox;
  readonly server: string;
  readonly key: string;
  /** The platform's own fetch, taken before it is watched for the trail. */
  readonly fetch: typeof fetch;
  /** Says something to whoever develops the app; taken before the console is watched for the trail. */
  readonly tell: (words: string) => void;
}

/** Sends what waits, in batches, one at a time; steps back when the server is away or asks for it. */
export class Sender {
  private timer: ReturnType<typeof setTimeout> | null = null;
  private sending: Promise<void> | null = null;
  private failures = 0;
  /** The server asked, or failed: until then nothing is sent, whoever wants it. */
  private notBefore = 0;
  private refused = false;
  private batchItems = mostBatchItems;
  private readonly told = new Set<string>();

  constructor(private readonly parts: SenderParts) {}

  /** Sends soon; several calls in a moment make one batch. */
  soon(delayMs = gatherMs): void {
    if (this.timer !== null || this.refused || this.parts.outbox.size === 0) return;
    const wait = Math.max(delayMs, this.notBefore - Date.now());
    this.timer = setTimeout(() => {
      this.timer = null;
      void this.now();
    }, wait);
    // In Node a waiting batch must not keep the program alive; it is sent at the next launch.
    (this.timer as { unref?: () => void }).unref?.();
  }

  /** Sends now what waits; resolves when the server has answered or cannot be reached. */
  now(): Promise<void> {
    if (Date.now() < this.notBefore) return Promise.resolve();
    this.sending ??= this.send().finally(() => {
      this.sending = null;
    });
    return this.sending;
  }

  private async send(): Promise<void> {
    const { outbox, server, key, fetch: send } = this.parts;
    while (outbox.size > 0 && !this.refused) {
      const items = outbox.first(this.batchItems);
      let answer: Response;
      try {
        answer = await send(`${server}/intake/v1/batch`, {
          method: 'POST',
          headers: { authorization: `Bearer ${key}`, 'content-type': 'application/x-ndjson' },
          body: items.map((item) => JSON.stringify(item)).join('\n'),
          // Lets a small batch out even while the page goes away.
          keepalive: JSON.stringify(items).length < 60_000,
        });
      } catch {
        return this.later();
      }
      // 400 names refused lines: they would be refused again, and the others were taken.
      if (answer.ok || answer.status === 400) {
        await this.tell(answer);
        outbox.remove(items);
        this.failures = 0;
      } else if (answer.status === 413) {
        await this.tell(answer);
        // Too large together: one at a time, and what is too large alone is given up.
        if (items.length > 1) this.batchItems = 1;
        else outbox.remove(items);
      } else if (answer.status === 401 || answer.status === 403) {
        await this.tell(answer);
        // A key that is not taken will not be taken in this launch; what waits stays for the next.
        this.refused = true;
      } else return this.later(Number(answer.headers.get('retry-after')) * 1_000 || 0);
    }
  }

  /**
   * Says once on the console what a server refused, changed or kept apart, and why: whoever develops the app should see it, and
   * nobody else can mend it. An answer that is none of ours says nothing.
   */
  private async tell(answer: Response): Promise<void> {
    const said = await answer.json().catch(() => null);
    const items: { outcome?: string; reason?: string; remarks?: string[] }[] = Array.isArray(said?.items) ? said.items : [];
    const words = [
      ...(answer.ok || answer.status === 400 ? [] : [`${said?.error?.message ?? `status ${answer.status}`} ${said?.error?.remedy ?? ''}`]),
      ...items.flatMap((item) => (item?.outcome === 'refused' || item?.outcome === 'apart' ? [`${item.outcome}: ${item.reason}`] : [])),
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
    this.notBefore = Date.now() + Math.max(askedMs, wait);
    if (this.timer !== null) clearTimeout(this.timer);
    this.timer = null;
    this.soon();
  }
}
