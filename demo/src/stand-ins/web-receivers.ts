import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { Webhook } from 'standardwebhooks';
import type { Received, ReceivedList } from './received.ts';
import type { StandInTracker } from './tracker.ts';

/** What the receivers know their senders by. */
export const receiverSecrets = {
  webhook: `whsec_${Buffer.from('larkfield-nest-box-number-seven!').toString('base64')}`,
  matrix: 'larkfield-matrix-token',
  textMessage: 'larkfield-gateway-key',
} as const;

/** A way that one message comes by HTTP. */
type MessageWay = Exclude<Received['way'], 'mail' | 'tracker'>;
type Taken = Omit<Received, 'at' | 'number' | 'way'>;
interface Asked {
  readonly request: IncomingMessage;
  readonly path: string;
  readonly body: string;
}
class Refused extends Error {
  constructor(
    readonly status: number,
    reason: string,
  ) {
    super(reason);
  }
}

const header = ({ request }: Asked, name: string): string => String(request.headers[name] ?? '');

/** Each receiver: which addresses are its own, and what it takes. */
const receivers: Readonly<Record<MessageWay, { readonly path: RegExp; take(asked: Asked): Taken }>> = {
  webhook: {
    path: /^\/webhook$/,
    take: (asked) => {
      const headers = Object.fromEntries(
        ['webhook-id', 'webhook-timestamp', 'webhook-signature'].map((name) => [name, header(asked, name)]),
      );
      try {
        new Webhook(receiverSecrets.webhook).verify(asked.body, headers);
      } catch (error) {
        throw new Refused(401, `the signature does not hold: ${(error as Error).message}`);
      }
      const { data } = JSON.parse(asked.body) as { data: { subject: string; text: string; app: string } };
      return {
        id: header(asked, 'webhook-id'),
        to: data.app,
        subject: data.subject,
        text: data.text,
        html: null,
        remark: 'its signature holds',
      };
    },
  },
  room: {
    path: /^\/rooms\/[\w-]+$/,
    take: ({ body, path }) => {
      const { text = '' } = JSON.parse(body) as { text?: string };
      return { id: '', to: path.split('/').at(-1) as string, subject: text.split('\n')[0] as string, text, html: null, remark: '' };
    },
  },
  matrix: {
    path: /^\/_matrix\/client\/v3\/rooms\/[^/]+\/send\/m\.room\.message\/[^/]+$/,
    take: (asked) => {
      if (asked.request.method !== 'PUT') throw new Refused(405, 'M_UNRECOGNIZED');
      if (header(asked, 'authorization') !== `Bearer ${receiverSecrets.matrix}`) throw new Refused(401, 'M_UNKNOWN_TOKEN');
      const [, , , , , room, , , transaction] = asked.path.split('/') as string[];
      const { body } = JSON.parse(asked.body) as { body: string };
      return {
        id: transaction as string,
        to: decodeURIComponent(room as string),
        subject: body.split('\n')[0] as string,
        text: body,
        html: null,
        remark: '',
      };
    },
  },
  'text-message': {
    path: /^\/text-messages$/,
    take: (asked) => {
      if (header(asked, 'authorization') !== `Bearer ${receiverSecrets.textMessage}`) throw new Refused(401, 'who are you');
      const { to, text } = JSON.parse(asked.body) as { to: string; text: string };
      return { id: header(asked, 'idempotency-key'), to, subject: text, text: '', html: null, remark: `${text.length} characters` };
    },
  },
};

const longestBody = 1_000_000;

/** Receivers of everything that goes over HTTP, on one port. `isAway` lets them answer as a receiver does that is being restarted. */
export async function startWebReceivers(
  received: ReceivedList,
  tracker: StandInTracker,
  { isAway = () => false, port = 0 }: { isAway?: () => boolean; port?: number } = {},
): Promise<{ readonly address: string; stop(): Promise<void> }> {
  const known = new Set<string>();
  const answer = async (request: IncomingMessage, response: ServerResponse, body: string) => {
    const reply = (status: number, value: object) =>
      response.writeHead(status, { 'content-type': 'application/json' }).end(JSON.stringify(value));
    if (isAway()) return reply(503, { error: 'away' });
    const { pathname: path, searchParams: parameters } = new URL(request.url ?? '/', 'http://stand-in');
    const { authorization = '', 'idempotency-key': key } = request.headers;
    const booked = await tracker.answer({
      method: request.method ?? '',
      path,
      parameters,
      authorization,
      idempotencyKey: String(key ?? ''),
      body,
    });
    if (booked) {
      const { status, value } = booked;
      if (typeof value === 'object') return reply(status, value);
      return response.writeHead(status, { 'content-type': 'text/html; charset=utf-8' }).end(value);
    }
    for (const [way, receiver] of Object.entries(receivers) as [MessageWay, (typeof receivers)['room']][]) {
      if (!receiver.path.test(path)) continue;
      try {
        const taken = receiver.take({ request, path, body });
        const name = `${way} ${taken.id}`;
        // What carries an identifier is taken once, as their specifications ask of a receiver.
        if (taken.id === '' || !known.has(name)) received.add({ way, ...taken });
        known.add(name);
        return reply(200, { event_id: taken.id });
      } catch (error) {
        return reply(error instanceof Refused ? error.status : 400, { error: (error as Error).message });
      }
    }
    return reply(404, { error: 'nobody lives here' });
  };
  const server = createServer((request, response) => {
    let body = '';
    request.setEncoding('utf8');
    request.on('data', (part: string) => {
      body += part;
      if (body.length > longestBody) request.destroy();
    });
    request.on('end', () => void answer(request, response, body).catch(() => response.writeHead(500).end()));
  });
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, '127.0.0.1', resolve);
  });
  return {
    address: `http://127.0.0.1:${(server.address() as AddressInfo).port}`,
    stop: () =>
      new Promise((resolve) => {
        server.close(() => resolve());
        server.closeAllConnections();
      }),
  };
}
