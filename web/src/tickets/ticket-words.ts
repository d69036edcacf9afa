import type { TicketView } from '@rough-ember/server/tickets/ticket-views';

/** How a ticket stands, in a few words; what is being asked of the tracker comes first. */
export function wordTicket({ number, state, isDone, work, problem }: TicketView): string {
  const failed = problem === null ? '' : `: ${problem}`;
  if (work === 'make') return problem === null ? 'being made' : `not made yet${failed}`;
  if (number === null) return `not made${failed}`;
  if (work !== null)
    return problem === null
      ? `being ${work === 'close' ? 'closed' : 'opened again'}`
      : `not ${work === 'close' ? 'closed' : 'opened'} yet${failed}`;
  return `${state ?? (isDone ? 'done' : 'open')}${failed}`;
}

/** What it is called: its number, once it has one. */
export const nameTicket = ({ number }: TicketView): string => number ?? 'Ticket';
