import { operation, rowNumber } from '../operation/operation.ts';
import { addTicket, askAgain, dropTicket, loadTickets, loadTicketsOfCase, newTicketSchema } from './ticket-views.ts';
import { changeTracker, dropTracker, givenTrackerSchema, loadTracker } from './tracker-settings.ts';

/** Tickets of cases in the tracker of an app. */
export const ticketOperations = [
  operation('GET /apps/{app}/tracker', {
    does: 'How the app reaches its ticket tracker, without secrets.',
    right: 'read',
    run: ({ services, app }) => loadTracker(services, app),
  }),
  operation('PUT /apps/{app}/tracker', {
    does: 'Says how the app reaches its ticket tracker; a secret that the server made for what the tracker tells is answered once.',
    right: 'developer',
    body: givenTrackerSchema,
    run: ({ services, app, body, by, role }) => changeTracker(services, app, body, { by, role }),
  }),
  operation('DELETE /apps/{app}/tracker', {
    does: 'Forgets the tracker; cases keep the numbers of their tickets.',
    right: 'developer',
    run: async ({ services, app }) => {
      await dropTracker(services, app);
      return { dropped: true };
    },
  }),
  operation('GET /apps/{app}/tickets', {
    does: 'The tickets of the cases of an app, those that are not done first.',
    right: 'read',
    run: ({ services, app, now }) => loadTickets(services, app, now),
  }),
  operation('GET /apps/{app}/cases/{ref}/tickets', {
    does: 'The tickets of a case, and the form of the tracker filled in with it.',
    right: 'read',
    run: ({ services, app, path }) => loadTicketsOfCase(services, app, path.ref),
  }),
  operation('POST /apps/{app}/cases/{ref}/tickets', {
    does: 'Has a ticket made of a case, or ties the case to one that is there.',
    right: 'change',
    body: newTicketSchema,
    status: 201,
    run: ({ services, app, path, body, by }) => addTicket(services, app, { ref: path.ref, number: body.number, by }),
  }),
  operation('POST /apps/{app}/tickets/{id}/ask', {
    does: 'Asks the tracker at once: for what it has not done yet, or what became of the ticket.',
    right: 'change',
    run: async ({ services, app, path }) => {
      await askAgain(services, app, rowNumber(path.id));
      return { asked: true };
    },
  }),
  operation('DELETE /apps/{app}/tickets/{id}', {
    does: 'Unties a case from a ticket, which stays what it is in the tracker.',
    right: 'change',
    run: async ({ services, app, path }) => {
      await dropTicket(services, app, rowNumber(path.id));
      return { dropped: true };
    },
  }),
] as const;
