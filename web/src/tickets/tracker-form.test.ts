import { describe, expect, it } from 'vitest';
import { readTracker, trackerInputs } from './tracker-form';

function formOf(more: Record<string, string> = {}): FormData {
  const form = new FormData();
  for (const { name, usual = '' } of trackerInputs) form.set(name, usual);
  for (const [name, value] of Object.entries(more)) form.set(name, value);
  return form;
}

describe('the form of a tracker', () => {
  it('says what is done by its addresses alone', () => {
    const tracker = readTracker(formOf({ form: 'https://t.example/new?title={{title}}', close: 'https://t.example/{{number}}' }));
    expect(tracker).toMatchObject({ make: null, ask: null, open: null, headers: { authorization: 'Bearer {{secret}}' } });
    expect(tracker.close).toEqual({ method: 'POST', address: 'https://t.example/{{number}}', body: '{"state": "closed"}' });
    expect(tracker).toMatchObject({ ticketFollowsCase: false, doneStates: ['closed', 'done', 'resolved'] });
    expect(readTracker(formOf({ caseFollowsTicket: 'on' })).caseFollowsTicket).toBe(true);
  });

  it('shows what it read', () => {
    const given = { make: 'https://t.example/api', headers: 'x-key: {{secret}}\naccept-language: en' };
    const tracker = readTracker(formOf(given));
    const shown = Object.fromEntries(trackerInputs.map(({ name, valueIn }) => [name, valueIn(tracker)]));
    expect(shown).toMatchObject({ ...given, makeNumber: '/number', ask: undefined, doneStates: 'closed, done, resolved' });
  });

  it.each([
    [{ make: 'no address' }, 'Address that makes a ticket: must be an http'],
    [{ make: 'https://t.example/', makeNumber: 'number' }, 'Where the number is in the answer: must be a JSON Pointer'],
    [{ headers: 'no name' }, 'Headers, a line each:'],
    [{ doneStates: ' , ' }, 'States that mean done:'],
  ])('names the input that is wrong: %j', (more, reason) => expect(() => readTracker(formOf(more))).toThrow(reason));
});
