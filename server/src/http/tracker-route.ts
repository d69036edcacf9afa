import { isDone, readPointer } from '@rough-ember/core/tickets/tracker';
import { findApp } from '@rough-ember/store/apps';
import { listTicketsByNumber } from '@rough-ember/store/tickets';
import { findTracker } from '@rough-ember/store/trackers';
import { Webhook } from 'standardwebhooks';
import { ApiError } from '../errors.ts';
import { hearTicket } from '../tickets/hear-ticket.ts';
import { LargePlace } from './large-bodies.ts';
import { rawRoute, sendJson } from './raw-route.ts';
import { readBody } from './read-body.ts';

const mostBytes = 500_000;
const signatureHeaders = ['webhook-id', 'webhook-timestamp', 'webhook-signature'] as const;

/** What the tracker of an app tells by itself: signed, and nothing else than what became of tickets that cases are tied to. */
export const trackerRoute = rawRoute(
  'POST /trackers/{app}/told',
  {
    does: 'Takes what the ticket tracker of an app tells, signed as Standard Webhooks 1.0 says.',
    takes: 'signature',
    consumes: ['application/json'],
    status: 200,
  },
  async (services, request, response, match) => {
    const { database, serverKey, largeBodies } = services;
    const app = await findApp(database, match[1] as string);
    const tracker = app && (await findTracker(database, app.id));
    if (!app || !tracker) throw new ApiError('not-found', 'No app of this name has a tracker.');
    const place = new LargePlace(largeBodies);
    let body: string;
    try {
      body = (await readBody(request, mostBytes, place)).toString('utf8');
    } finally {
      place.giveUp();
    }
    const headers = Object.fromEntries(signatureHeaders.map((name) => [name, String(request.headers[name] ?? '')]));
    const value = verified(body, headers, serverKey.decrypt(tracker.toldSecret) ?? '');
    const { told } = tracker.settings;
    const [number, state] = [readPointer(value, told.number), readPointer(value, told.state)];
    if (number === null || state === null)
      throw new ApiError('bad-request', `There is no ${number === null ? `number at ${told.number}` : `state at ${told.state}`}.`);
    const tickets = await listTicketsByNumber(database, app.id, number);
    for (const ticket of tickets) await hearTicket(services, app, tracker, ticket, { state, isDone: isDone(tracker.settings, state) });
    sendJson(response, 200, { tickets: tickets.length });
  },
);

/** The JSON that was signed; throws an ApiError. What was signed more than five minutes ago is refused, so that nobody sends it again later. */
function verified(body: string, headers: Record<string, string>, secret: string): unknown {
  try {
    return new Webhook(secret).verify(body, headers);
  } catch (error) {
    // It is read once its signature holds.
    if (error instanceof SyntaxError) throw new ApiError('bad-request', 'The body is no JSON.');
    throw new ApiError('bad-signature', `The signature does not hold: ${(error as Error).message}.`);
  }
}
