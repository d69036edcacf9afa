import type { TicketView } from '@rough-ember/server/tickets/ticket-views';
import { describe, expect, it } from 'vitest';
import { wordTicket } from './ticket-words';

const made: TicketView = {
  id: 1,
  number: 'BOX-1',
  page: null,
  state: null,
  isDone: false,
  work: null,
  problem: null,
  madeBy: 'ines@larkfield.example',
  madeAt: '2026-11-30T08:00:00.000Z',
};

describe('a ticket in words', () => {
  it.each([
    ['open', {}],
    ['done', { isDone: true }],
    ['In review', { state: 'In review' }],
    ['being made', { number: null, work: 'make' }],
    ['not made yet: the receiver answered 503', { number: null, work: 'make', problem: 'the receiver answered 503' }],
    ['not made: no number', { number: null, problem: 'no number' }],
    ['being closed', { work: 'close' }],
    ['not opened yet: away', { work: 'open', problem: 'away' }],
    ['open: away', { problem: 'away' }],
  ] as const)('%s', (words, more) => expect(wordTicket({ ...made, ...more })).toBe(words));
});
