import { fillTemplate } from '@rough-ember/core/templates/template';
import { isDone, readPointer, type TicketValues } from '@rough-ember/core/tickets/tracker';
import type { KeptTracker } from '@rough-ember/store/trackers';
import { judgeAnswer, SendProblem } from '../alerts/channels/channel-kind.ts';
import { guardedRequest } from '../alerts/guarded-request.ts';
import type { Services } from '../services.ts';

const mostAnswerBytes = 500_000;
const longestNumber = 100;

/** A tracker with the secret that it knows this server by. */
export interface OpenTracker extends KeptTracker {
  readonly openSecret: string;
}

/** Reads the secret of a tracker; throws a SendProblem when another key encrypted it. */
export function openTracker({ serverKey }: Pick<Services, 'serverKey'>, tracker: KeptTracker): OpenTracker {
  const openSecret = tracker.secret === null ? '' : serverKey.decrypt(tracker.secret);
  if (openSecret === null)
    throw new SendProblem('its secret was encrypted by another key of the server; give it again, or set EMBER_SECRET_KEY as it was');
  return { ...tracker, openSecret };
}

interface TrackerRequest {
  readonly method: string;
  readonly address: string;
  readonly body: string;
  /** The same at every attempt, so that a tracker does it once (draft-ietf-httpapi-idempotency-key-header). */
  readonly key?: string;
}

/** Sends a request of templates; gives the answer as JSON, or null where it is none. Throws a SendProblem. */
async function ask(tracker: OpenTracker, { method, address, body, key }: TrackerRequest, given: TicketValues): Promise<unknown> {
  const values = { ...given, secret: tracker.openSecret };
  const headers = Object.entries(tracker.settings.headers).map(([name, text]) => [
    name.toLowerCase(),
    fillTemplate(text, 'header', values),
  ]);
  const answer = await guardedRequest(fillTemplate(address, 'form', values), {
    method,
    headers: {
      accept: 'application/json',
      ...(body === '' ? {} : { 'content-type': 'application/json' }),
      ...(key === undefined ? {} : { 'idempotency-key': key }),
      ...Object.fromEntries(headers),
    },
    body: body === '' ? '' : fillTemplate(body, 'json', values),
    mayReachPrivate: tracker.mayReachPrivate,
    mostAnswerBytes,
  });
  judgeAnswer(answer);
  try {
    return JSON.parse(answer.text);
  } catch {
    return null;
  }
}

/** Makes a ticket; gives its number. Throws a SendProblem. */
export async function makeTicket(tracker: OpenTracker, values: TicketValues): Promise<string> {
  const { make } = tracker.settings;
  if (make === null) throw new SendProblem('the app does not say how tickets are made', true);
  const answer = await ask(tracker, { method: 'POST', address: make.address, body: make.body, key: values.id }, values);
  const number = readPointer(answer, make.number);
  // It may have made one: to ask again and again would make more.
  if (number === null || number === '' || number.length > longestNumber)
    throw new SendProblem(`it answered, and there is no number at ${make.number || 'its root'} of the answer`, true);
  return number;
}

/** Closes a ticket, or opens it again. Throws a SendProblem. */
export async function changeTicket(tracker: OpenTracker, work: 'close' | 'open', values: TicketValues): Promise<void> {
  const how = tracker.settings[work];
  if (how === null) throw new SendProblem(`the app does not say how tickets are ${work === 'close' ? 'closed' : 'opened again'}`, true);
  await ask(tracker, { ...how, key: `${values.id}-${work}` }, values);
}

/** The state of a ticket in the words of the tracker, and whether it is done; null where the app does not say how to ask. */
export async function askState(tracker: OpenTracker, values: TicketValues): Promise<{ state: string; isDone: boolean } | null> {
  const how = tracker.settings.ask;
  if (how === null) return null;
  const state = readPointer(await ask(tracker, { method: 'GET', address: how.address, body: '' }, values), how.state);
  if (state === null) throw new SendProblem(`there is no state at ${how.state || 'the root'} of its answer`);
  return { state, isDone: isDone(tracker.settings, state) };
}
