import { randomUUID } from 'node:crypto';
import type { CaseState } from '@rough-ember/core/cases/case-status';
import { fillTemplate } from '@rough-ember/core/templates/template';
import type { Tracker } from '@rough-ember/core/tickets/tracker';
import type { App } from '@rough-ember/store/apps';
import {
  findTicket,
  listTickets,
  listTicketsOfCase,
  orderTicket,
  retryTicket,
  type Ticket,
  type TicketWork,
  tieTicket,
  untieTicket,
} from '@rough-ember/store/tickets';
import { findTracker } from '@rough-ember/store/trackers';
import { z } from 'zod';
import { SendProblem } from '../alerts/channels/channel-kind.ts';
import { requireCase } from '../desk/case-actions.ts';
import { ApiError } from '../errors.ts';
import { askTicket, type TicketServices } from './ticket-runner.ts';
import { ticketValues } from './ticket-values.ts';

/** A ticket as screens show it. */
export interface TicketView {
  readonly id: number;
  /** Null until the tracker has made it. */
  readonly number: string | null;
  /** Its page in the tracker; null where the app does not say where pages are. */
  readonly page: string | null;
  /** In the words of the tracker; null until it told one. */
  readonly state: string | null;
  readonly isDone: boolean;
  /** What is to be asked of the tracker, and is not yet. */
  readonly work: TicketWork | null;
  readonly problem: string | null;
  readonly madeBy: string;
  readonly madeAt: string;
}

function viewOf(ticket: Ticket, settings: Tracker | undefined): TicketView {
  const { id, number, state, isDone, work, problem, madeBy, madeAt } = ticket;
  const page = settings?.page != null && number !== null ? fillTemplate(settings.page, 'form', { number }) : null;
  return { id, number, page, state, isDone, work, problem, madeBy, madeAt: madeAt.toISOString() };
}

/** What a case has of tickets, and how it gets one. */
export interface TicketsOfCase {
  readonly tickets: readonly TicketView[];
  /** Whether this server makes tickets of the app's cases. */
  readonly makes: boolean;
  /** The tracker's own form, filled in; null where the app names none. */
  readonly form: string | null;
}

/** Of a text that stands in an address: servers refuse longer ones. */
const longestInAddress = 1_500;

export async function loadTicketsOfCase(services: TicketServices, app: App, ref: string): Promise<TicketsOfCase> {
  const { database } = services;
  const caseId = await requireCase(services, app, ref);
  const [tracker, tickets] = await Promise.all([findTracker(database, app.id), listTicketsOfCase(database, caseId)]);
  const settings = tracker?.settings;
  const values = settings?.form == null ? null : await ticketValues(services, app, caseId, { id: '', number: '', withChange: false });
  return {
    tickets: tickets.map((one) => viewOf(one, settings)),
    makes: settings?.make != null,
    form:
      settings?.form == null || values === null
        ? null
        : fillTemplate(settings.form, 'form', { ...values, text: values.text.slice(0, longestInAddress) }),
  };
}

/** The tickets of an app with their cases. */
export interface TicketList {
  readonly tickets: readonly (TicketView & {
    readonly ref: string;
    readonly what: string;
    readonly where: string;
    readonly caseState: CaseState;
  })[];
  readonly now: string;
}

const mostTickets = 500;

export async function loadTickets({ database }: Pick<TicketServices, 'database'>, app: App, now: Date): Promise<TicketList> {
  const [tracker, tickets] = await Promise.all([findTracker(database, app.id), listTickets(database, app.id, mostTickets)]);
  return {
    tickets: tickets.map((one) => ({
      ...viewOf(one, tracker?.settings),
      ref: `${app.prefix}-${one.caseNumber}`,
      what: one.what,
      where: one.where,
      caseState: one.caseState,
    })),
    now: now.toISOString(),
  };
}

/** A ticket that is to be made when no number is given, or one that is there. */
export const newTicketSchema = z.strictObject({
  number: z.string().trim().min(1).max(100).optional().describe('Of a ticket that is there; left out, one is made.'),
});

/** Has a ticket made of a case, or ties the case to one. */
export async function addTicket(
  services: TicketServices,
  app: App,
  { ref, number, by }: { readonly ref: string; readonly number: string | undefined; readonly by: string },
): Promise<{ readonly made: boolean }> {
  const { database, changes } = services;
  const about = { appId: app.id, caseId: await requireCase(services, app, ref), requestId: randomUUID(), madeBy: by };
  if (number === undefined) {
    if ((await findTracker(database, app.id))?.settings.make == null)
      throw new ApiError('bad-request', `${app.name} does not say how tickets are made; its page Tickets is where one says it.`);
    if ((await orderTicket(database, about)) === null)
      throw new ApiError('bad-request', `A ticket of ${ref} is being made; it stands on the case in a moment.`);
  } else if (!(await tieTicket(database, { ...about, number }))) throw new ApiError('bad-request', `${ref} is tied to ${number} already.`);
  changes.note(app.id);
  return { made: number === undefined };
}

async function requireTicket({ database }: TicketServices, app: App, id: number): Promise<Ticket> {
  const ticket = await findTicket(database, app.id, id);
  if (!ticket) throw new ApiError('not-found', 'There is no such ticket; somebody may have untied it.');
  return ticket;
}

export async function dropTicket(services: TicketServices, app: App, id: number): Promise<void> {
  await requireTicket(services, app, id);
  await untieTicket(services.database, app.id, id);
  services.changes.note(app.id);
}

/** Asks the tracker at once: for what was given up once more, or what became of the ticket. */
export async function askAgain(services: TicketServices, app: App, id: number): Promise<void> {
  const ticket = await requireTicket(services, app, id);
  if (ticket.number === null || ticket.work !== null) await retryTicket(services.database, ticket);
  else
    try {
      await askTicket(services, ticket);
    } catch (error) {
      if (!(error instanceof Error)) throw error;
      throw new ApiError(
        'undelivered',
        `The tracker could not be asked: ${error instanceof SendProblem ? error.message : String(error.message)}.`,
      );
    }
  services.changes.note(app.id);
}
