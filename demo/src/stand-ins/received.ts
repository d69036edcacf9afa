import { appendFileSync, existsSync, readFileSync, writeFileSync } from 'node:fs';

/** The ways that a stand-in takes messages. */
export const ways = ['mail', 'webhook', 'room', 'matrix', 'text-message', 'tracker'] as const;
export type Way = (typeof ways)[number];

/** Something that a stand-in took. */
export interface Received {
  /** From 1, in the order in which things came. */
  readonly number: number;
  /** The identifier that the sender gave it: the same for one message however often it came. */
  readonly id: string;
  readonly way: Way;
  readonly at: string;
  readonly to: string;
  readonly subject: string;
  readonly text: string;
  /** Mail alone has it. */
  readonly html: string | null;
  /** Mail alone may have it: where a request stops such mail (RFC 8058). */
  readonly stopsAt?: string;
  /** What the receiver found out about it, such as that its signature holds. */
  readonly remark: string;
}

const mostKept = 500;

/** What came, the oldest first; kept in a file, if one is named. */
export class ReceivedList {
  private items: Received[] = [];

  constructor(private readonly file: string | null = null) {
    if (file === null || !existsSync(file)) return;
    // A line that was cut off by an end of the process is left out.
    this.items = readFileSync(file, 'utf8')
      .split('\n')
      .flatMap((line) => {
        try {
          return [JSON.parse(line) as Received];
        } catch {
          return [];
        }
      })
      .slice(-mostKept);
    writeFileSync(file, this.items.map((one) => `${JSON.stringify(one)}\n`).join(''));
  }

  add(received: Omit<Received, 'at' | 'number'>): void {
    const item = { ...received, number: (this.items.at(-1)?.number ?? 0) + 1, at: new Date().toISOString() };
    this.items.push(item);
    if (this.items.length > mostKept) this.items.shift();
    if (this.file !== null) appendFileSync(this.file, `${JSON.stringify(item)}\n`);
  }

  list(): readonly Received[] {
    return this.items;
  }
}
