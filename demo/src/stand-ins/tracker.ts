import { request as sendRequest } from 'node:http';
import { Webhook } from 'standardwebhooks';
import type { ReceivedList } from './received.ts';

/** What the tracker knows its users by. */
export const trackerSecret = 'larkfield-box-book-key';
/** What it signs with. */
export const toldTrackerSecret = `whsec_${Buffer.from('larkfield-box-book-tells-of-boxes').toString('base64')}`;

/** A ticket of the box book, where Larkfield writes down what is to be mended. */
export interface BookedTicket {
  /** `BOX-1` */
  readonly number: string;
  readonly title: string;
  readonly body: string;
  state: 'open' | 'closed';
}

/** Who is told of what becomes of a ticket. */
interface Told {
  readonly address: string;
  /** `whsec_…` */
  readonly secret: string;
}

export interface TrackerRequest {
  readonly method: string;
  readonly path: string;
  readonly parameters: URLSearchParams;
  readonly authorization: string;
  readonly idempotencyKey: string;
  readonly body: string;
}

export interface TrackerAnswer {
  readonly status: number;
  /** JSON, or the text of a page. */
  readonly value: object | string;
}

const escaped = (text: string): string => text.replace(/[&<>"]/g, (letter) => `&#${letter.charCodeAt(0)};`);

/** A ticket tracker on this machine: makes tickets, shows them, closes them, and tells of it signed as Standard Webhooks 1.0 says. */
export class StandInTracker {
  private readonly tickets: BookedTicket[] = [];
  private readonly byKey = new Map<string, BookedTicket>();
  private told: Told | null = null;

  constructor(private readonly received: ReceivedList) {}

  list(): readonly BookedTicket[] {
    return this.tickets;
  }

  /** From now on tells this address of each change. */
  tell(told: Told): void {
    this.told = told;
  }

  /** Changes the state of a ticket as somebody at the tracker would. */
  async change(number: string, state: BookedTicket['state']): Promise<void> {
    const ticket = this.tickets.find((one) => one.number === number);
    if (!ticket) throw new Error(`there is no ${number}`);
    ticket.state = state;
    if (this.told) await sendTold(this.told, ticket);
  }

  /** Answers a request; null for one that is none of its own. */
  async answer(request: TrackerRequest): Promise<TrackerAnswer | null> {
    const { method, path, authorization } = request;
    const match = /^\/tracker\/(tickets|pages|new)(?:\/([\w-]+))?(?:\/(state))?$/.exec(path);
    if (!match) return null;
    const [, what, number, state] = match;
    const ticket = this.tickets.find((one) => one.number === number);
    if (what === 'new') return { status: 200, value: formOf(request.parameters) };
    if (what === 'pages') return this.page(method, ticket);
    if (authorization !== `Bearer ${trackerSecret}`) return { status: 401, value: { error: 'who are you' } };
    if (method === 'POST' && number === undefined) return { status: 201, value: this.make(request) };
    if (!ticket) return { status: 404, value: { error: 'there is no such ticket' } };
    if (state !== undefined) ticket.state = (JSON.parse(request.body) as { state: BookedTicket['state'] }).state;
    return { status: 200, value: ticket };
  }

  private make({ body, idempotencyKey }: TrackerRequest): BookedTicket {
    const before = this.byKey.get(idempotencyKey);
    if (before) return before;
    const { title, body: text } = JSON.parse(body) as { title: string; body: string };
    const ticket: BookedTicket = { number: `BOX-${this.tickets.length + 1}`, title, body: text, state: 'open' };
    this.tickets.push(ticket);
    this.byKey.set(idempotencyKey, ticket);
    this.received.add({ id: idempotencyKey, way: 'tracker', to: ticket.number, subject: title, text, html: null, remark: '' });
    return ticket;
  }

  /** The page of a ticket for people, with a button that closes it or opens it again. */
  private async page(method: string, ticket: BookedTicket | undefined): Promise<TrackerAnswer> {
    if (!ticket) return { status: 404, value: 'There is no such ticket.' };
    if (method === 'POST') await this.change(ticket.number, ticket.state === 'open' ? 'closed' : 'open');
    const { number, title, body, state } = ticket;
    const does = state === 'open' ? 'Close it' : 'Open it again';
    return {
      status: 200,
      value: `<!doctype html><title>${number}</title><h1>${number}: ${escaped(title)}</h1><p>${state}</p><form method="post"><button>${does}</button></form><pre>${escaped(body)}</pre>`,
    };
  }
}

const formOf = (parameters: URLSearchParams): string =>
  `<!doctype html><title>New ticket</title><h1>New ticket</h1><p><input value="${escaped(parameters.get('title') ?? '')}" size="80"></p><textarea cols="80" rows="20">${escaped(parameters.get('body') ?? '')}</textarea>`;

function sendTold({ address, secret }: Told, { number, state }: BookedTicket): Promise<void> {
  const now = new Date();
  const body = JSON.stringify({ type: 'ticket.changed', timestamp: now.toISOString(), data: { number, state } });
  const id = `${number}-${now.getTime()}`;
  return new Promise((resolve, reject) => {
    const request = sendRequest(
      address,
      {
        method: 'POST',
        headers: {
          'content-type': 'application/json',
          'content-length': Buffer.byteLength(body),
          'webhook-id': id,
          'webhook-timestamp': String(Math.floor(now.getTime() / 1_000)),
          'webhook-signature': new Webhook(secret).sign(id, now, body),
        },
      },
      (response) => {
        response.resume();
        if (response.statusCode === 200) resolve();
        else reject(new Error(`the listener answered ${response.statusCode}`));
      },
    );
    request.on('error', reject);
    request.end(body);
  });
}
