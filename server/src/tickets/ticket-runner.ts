import { type App, findAppById } from '@rough-ember/store/apps';
import { reasonOf } from '@rough-ember/store/database-errors';
import { markUnworked, markWorked, type Ticket, takeTickets, takeUnasked } from '@rough-ember/store/tickets';
import { findTracker, type KeptTracker } from '@rough-ember/store/trackers';
import { SendProblem } from '../alerts/channels/channel-kind.ts';
import { type RepeatedWork, repeatWork } from '../repeat-work.ts';
import type { DeskServices, Services } from '../services.ts';
import { askState, changeTicket, makeTicket, openTracker } from './ask-tracker.ts';
import { hearTicket } from './hear-ticket.ts';
import { ticketValues } from './ticket-values.ts';

export type TicketServices = DeskServices & Pick<Services, 'publicUrl' | 'settings' | 'serverKey' | 'changes' | 'log'>;

const workEveryMs = 1_000;
const asksEveryMs = 10_000;
const atOnce = 10;
/** How often a tracker is asked what became of a ticket that is not done. */
const asksTicketEverySeconds = 600;
/** After the first attempts it is tried again after so long, and at last every hour. */
const retrySeconds = [5, 30, 120, 600, 1_800, 3_600];
/** A tracker that is away for longer, some three days, does not get what was asked of it. */
const mostAttempts = 75;

/** Makes, closes and opens tickets, and asks what became of those that are not done. */
export function startTicketRunner(services: TicketServices): RepeatedWork {
  return repeatWork(services.log, 'tickets could not be worked at', [
    { everyMs: workEveryMs, work: async () => (await workTickets(services)) > 0 },
    { everyMs: asksEveryMs, work: async () => (await askTickets(services)) > 0 },
  ]);
}

/** Asks the trackers for what is to be done to some tickets; gives how many those were. */
async function workTickets(services: TicketServices): Promise<number> {
  const tickets = await takeTickets(services.database, atOnce);
  await Promise.all(tickets.map((ticket) => workTicket(services, ticket)));
  return tickets.length;
}

async function workTicket(services: TicketServices, ticket: Ticket): Promise<void> {
  const { database, changes, log } = services;
  try {
    await withTracker(services, ticket, async (app, tracker) => {
      const values = await ticketValues(services, app, ticket.caseId, {
        id: ticket.requestId,
        number: ticket.number ?? '',
        withChange: ticket.work === 'make',
      });
      if (values === null) throw new SendProblem('its case has no report any more', true);
      const open = openTracker(services, tracker);
      const became =
        ticket.work === 'make' ? { number: await makeTicket(open, values), isDone: false } : { isDone: ticket.work === 'close' };
      if (ticket.work === 'close' || ticket.work === 'open') await changeTicket(open, ticket.work, values);
      await markWorked(database, ticket, became);
    });
  } catch (error) {
    const problem = error instanceof SendProblem ? error : new SendProblem(reasonOf(error));
    const wait = Math.max(problem.retryAfterSeconds ?? 0, retrySeconds[Math.min(ticket.attempts, retrySeconds.length) - 1] ?? 5);
    log.info({ ticket: ticket.id, attempt: ticket.attempts, reason: problem.message }, 'a tracker did not do what was asked');
    const isGivenUp = problem.isFinal || ticket.attempts >= mostAttempts;
    await markUnworked(database, ticket, { reason: problem.message, retryAfterSeconds: isGivenUp ? null : wait });
  }
  changes.note(ticket.appId);
}

/** Asks the trackers what became of some tickets; gives how many were asked for. */
async function askTickets(services: TicketServices): Promise<number> {
  const tickets = await takeUnasked(services.database, atOnce, asksTicketEverySeconds);
  await Promise.all(tickets.map((ticket) => askTicket(services, ticket).catch(() => {})));
  return tickets.length;
}

/** Asks the tracker what became of a ticket; throws a SendProblem. Nothing is asked where the app does not say how. */
export async function askTicket(services: TicketServices, ticket: Ticket): Promise<void> {
  await withTracker(services, ticket, async (app, tracker) => {
    if (tracker.settings.ask === null || ticket.number === null) return;
    const values = await ticketValues(services, app, ticket.caseId, { id: ticket.requestId, number: ticket.number, withChange: false });
    if (values === null) return;
    const told = await askState(openTracker(services, tracker), values);
    if (told && (told.state !== ticket.state || told.isDone !== ticket.isDone)) await hearTicket(services, app, tracker, ticket, told);
  });
}

async function withTracker(
  { database }: TicketServices,
  ticket: Ticket,
  work: (app: App, tracker: KeptTracker) => Promise<void>,
): Promise<void> {
  const [app, tracker] = await Promise.all([findAppById(database, ticket.appId), findTracker(database, ticket.appId)]);
  if (!app || !tracker) throw new SendProblem('the app names no tracker any more', true);
  await work(app, tracker);
}
